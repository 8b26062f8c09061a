"""Brief and Place in plain words: what a builder types and picks there, and what they read."""

PLACE_SCENARIOS = {
    "a battery that can't come out either way stays in for good": """
        key 2
        settle
        row Clashes has ✗ trapped by | -18.5 | Battery | T62L
        choose B24
        row The card of what is chosen has slides out | up 300.0
        type set slide forward 900
        settle
        row Clashes has Battery
        type set slide none
        settle
        row Clashes lacks trapped by
        tally clashes = 2
        key Ctrl+Z
        settle
        row Clashes has trapped by
    """,
    "the shaft's left bearing is put right and the chain is in line": """
        key 2
        settle
        snag Final drive is out of line: 0.40° in plan
        choose C34
        type set driven yaw 0
        said Set driven yaw of C34.
        settle
        row Chains and shafts lacks out of line
        row Chains and shafts has 70 links
        row Chains and shafts has km/h at 1000 rpm
        type set guarded yes
        settle
        row Chains and shafts has guard | fitted
        type set driving yaw 40
        settle
        row Chains and shafts has do not face
    """,
    "a chain is refused what no chain can be and keeps what it was": """
        choose C34
        type set driving teeth 3
        refused teeth
        key Escape in line
        choose C34
        type set pitch 0
        refused pitch
        key Escape in line
        choose C34
        type set wear x
        refused ‘x’ is no number for wear allowed
        key Escape in line
        choose C34
        type set colour red
        refused C34 has no ‘colour’
    """,
    "the passenger stays at home": """
        key 2
        settle
        tally car mass = 535.3
        choose D33
        type set aboard no
        settle
        tally car mass = 467.3
        row People has Ottilie, not aboard
        row Clashes lacks Ottilie
        type set aboard maybe
        refused neither yes nor no
    """,
    "thirty millimetres back is told before it is done and is so when it is": """
        key 2
        settle
        row How it stands has Engine, transverse triple back 30.0 mm | front axle -0.20 %
        tally front share = 43.6
        choose B22
        type x-30
        said Move B22 x-30.
        settle
        tally front share = 43.3
        row How it stands has front wheels lift | at 2.2
    """,
    "a rule from the builder's own book is typed, fails, and is met": """
        key 1
        settle
        type rule room reading elbow room, least 30: Elbows 30 clear of the frame
        said Add rule R16.
        settle
        row Rules has R16 | ✗ fail
        snag R16 is missed by
        choose D32
        type set hip y-12
        settle
        row Rules has R16 | ✓ pass
        type rule R16 room reading elbow room, least 300: Elbows far off
        settle
        row Rules has R16 | ✗ fail
        type rule R16 gone
        settle
        row Rules lacks R16
        type rule room reading elbow room: no numbers
        refused The rule lacks its numbers
    """,
    "aims are dropped and asked for again": """
        key 1
        settle
        row Aims has mass at most | 530.0 kg | 535.3 kg | +5.3 kg
        type target mass gone
        settle
        row Aims lacks 530.0 kg
        type target mass gone
        refused There is no target for mass
        key Escape in line
        type target mass 1180 lb +- 5 kg
        settle
        row Aims has met | 5.0 kg
        type deadline 2027-13-40
        refused is not a day
    """,
    "the harness bar is laid to a line and comes down with it": """
        key 2
        choose J20L J24
        type line harness z 900
        type lay harness
        settle
        row Holes and lines has line harness | z 900.0 mm
        type line harness z 780
        settle
        row Holes and lines has J20L
        type lay roof
        refused There is no line ‘roof’
    """,
    "a datum far back counts the readings of parts too": """
        key 2
        settle
        choose B22
        row The card of what is chosen has x | -1875.0
        type datum firewall
        settle
        row The card of what is chosen has x | -255.0
        type x 0
        settle
        row The card of what is chosen has x | 0.0
        type units inch 1/16 lb
        settle
        row The card of what is chosen has mass | 185.2 lb
    """,
    "a part is dropped onto the floor tubes": """
        key 2
        type place load Spares box 200 x 200 x 150 at -1330 0 600 mass 12
        said Place Spares.
        settle
        type drop
        settle
        row What is placed has Spares
        type align level Engine, transverse triple
        said Align Spares level Engine, transverse triple.
        type align level nothing
        refused There is no part ‘nothing’
    """,
}
