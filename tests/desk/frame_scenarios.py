"""Frame in plain words: bends, fittings, bays, changes and stations, typed and picked in the window."""

FRAME_SCENARIOS = {
    "a gusset is added to what is chosen, changed in its row and taken away": """
        key 4
        choose T49L T9L
        type add gusset leg 60, thickness 2
        refused T49L (front side tube, left) and T9L (hoop brace, left) do not meet.
        key Esc in line
        choose T41 T42
        type add gusset leg 60
        refused The gusset lacks thickness. Write for example
        key Esc in line
        choose T49L
        type add doubler at 200, length 120, wall 2
        said Add doubler F1L.
        tab Fittings
        settle
        row Sheet and fittings has F1L | doubler | tube T49L
        row Sheet and fittings has F1R | doubler | tube T49R
        tally frame mass has +
        choose F1L
        key Delete
        said Remove F1L.
        settle
        row Sheet and fittings lacks doubler
        tally frame mass lacks +
    """,
    "an insert that does not fit the bore says what would slide in": """
        choose T13L
        type add insert at 200, od 36, wall 2, depth 60
        refused An insert of 36 mm does not go into T13L (middle lower rail 1, left): its bore is 34 mm.
        count tubes 136
        key Esc in line
    """,
    "the open bays are told with what closes them and closing one stops a fold": """
        key 4
        tab Bays
        settle
        row Bays has J9L–J9R–J12R–J12L | open
        read page has the frame would fold 4 ways that a brace stops
        pick Bays J9L–J9R–J12R–J12L
        row What closes the bay has diagonal J9L–J12R
        row What closes the bay has panel
        press Close it so
        said Add T74.
        settle
        row Bays lacks J9L–J9R–J12R–J12L | open
        read page has the frame would fold 3 ways that a brace stops
        press Next fold
        read page has Fold 1 of 19: a brace in
        press Stand still
        key Ctrl+Z
        settle
        read page has the frame would fold 4 ways
    """,
    "a wheelbase cut by six inches is listed with every tube that shortens": """
        key 4
        type lock 30
        type stretch behind -900 by -6"
        refused The plane at x -900.0 passes through Driver's seat (B26)
        key Esc in line
        type stretch behind -1580 by -6"
        said Shorten behind -1580 by 152.4 mm.
        tab Changes
        settle
        tally wheelbase = 2147.6
        row Tubes and parts that changed has turning circle | 9200.0 mm before, 8590.4 mm now | −609.6
        row Tubes and parts that changed has shorter | −1
        row Tubes and parts that changed has B22 | moved
        row Figures that changed has wheelbase | 2300.0 mm | 2147.6 mm | −152.4 mm
        key Ctrl+Z
        settle
        tally wheelbase = 2300.0
    """,
    "two variants are compared tube by tube": """
        key 4
        type variant keep Before
        choose T9L
        type section 38 x 2
        type tube J9L J12R 25 x 1.5
        tab Changes
        settle
        since Before
        row Tubes and parts that changed has T9L | section 38 x 2
        row Tubes and parts that changed has T9R | section 38 x 2
        row Tubes and parts that changed has T74 | added: 25 x 1.5
        row Figures that changed has frame
    """,
    "smaller diagonals meet fewer tubes": """
        key 4
        type choose diagonals
        type section 15 x 1.5
        tab Changes
        settle
        row Tubes and parts that changed has cut ends | 130 met more than one tube, 102 do now | −28
    """,
    "what is no longer symmetric is listed with how far": """
        key 4
        choose J12L
        type part
        choose J12L
        type z+12.5
        tab Changes
        settle
        row Not symmetric has J12L, J12R | parted, and nearly opposite | 12.5
    """,
    "widths are read at any station and a donor cut leaves its stubs": """
        key 4
        choose T13L
        type donor
        said T13L: of the donor.
        tab Stations
        station -1000
        row Widths at the station has T13L T13R
        row What the cut leaves has T13L
        station cheese
        read page has ‘cheese’
        station -640
        row What the cut leaves has mm left to weld to
        station -1000
        press Cut it
        said Cut the donor at -1000.0.
    """,
    "a tube stands beside what it was and what could be in its place": """
        key 4
        type die 45 clr 135 grip 60
        choose T9L
        type section 32 x 2
        tab Swap
        read page has T9L: 32 x 2, 38 x 2 round at the mark, and what is at least as stiff
        row Section compared has 32 x 2 | 100 %
        row Section compared has 38 x 2 round | 173 %
        row Bending dies has 45.0 | 135.0 | 60.0
        pick Section compared 38 x 2 round
        press Take it
        said Make T9L 38 x 2 round.
    """,
    "a hoop that can not be bent, and a mirror that would land on another tube": """
        key 4
        type hoop main 45 x 2.5 height 1000 width 1000 at -800 200
        refused There is no die for 45 mm tube on the shelf.
        key Esc in line
        type die 45 clr 600
        type hoop main 45 x 2.5 height 1000 width 1000 at -800 200
        refused are 1000.0 mm apart, and bends of 600 mm radius need 1200.0 mm
        count tubes 136
    """,
    "a piece is sent to the tube laser from the cut list and back": """
        key 6
        settle
        choose T40L
        settle
        type laser
        said T40L: cut by a tube laser.
        settle
        row Pieces to cut has T40L
        row Pieces to cut has laser
        type laser no
        said T40L: cut by hand.
    """,
    "a folded rail is told in the cut list and on its card": """
        key 4
        choose T9L
        type kick in 60 angle 30 at 400 by fold
        said Kick T9L in 60.0 mm: 4 cuts, notches 19.3 mm wide, 233.4 mm of weld.
        key 6
        settle
        row Pieces to cut has 30.0° notch 19.3
        choose T9L
        key F11
        card has bend at
        key Esc in card
    """,
}
