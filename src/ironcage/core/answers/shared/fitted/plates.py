"""Fittings of plate: panels, corner plates, fish plates, tabs and caps, flat and in the car."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from ironcage.core.answers.shared.fitted.shop import Fitted, Shop, Stiffener, places_of
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.plane.flats import Flat, Laid, laid_flat, less
from ironcage.core.calc.plane.folded import folded_edges
from ironcage.core.calc.plane.spines import along_spine, flattened_line, turns_of
from ironcage.core.calc.plane.tabs import tab_foot
from ironcage.core.job.edits.fittings import flange_holes
from ironcage.core.job.geometry.routes import Place, axes_at, route_of
from ironcage.core.job.geometry.tabs import clocked, tab_stand
from ironcage.core.job.values import fittings as kinds
from ironcage.core.job.values.model import Tube
from ironcage.problem import Problem
from ironcage.units import said

FIXINGS = {"welded": "stitches", "bonded": "fixings", "riveted": "rivets", "bolted": "bolts"}
ROUND = 72  # sides that the edge of a round plate is drawn with
GOES_ON = math.radians(60)  # a fish plate follows a kick up to this from its tube's end into the next
FLAT_MM = 2.0  # a panel that is further off flat is cut to its rim alone; a tube that is nearer does not pass it
ROOM_MM = 1.0  # round a tube that passes through sheet
GRAZES = 0.2  # of its direction square to the sheet: a tube that passes flatter leaves a slit, not a hole
MANY = 4  # a line that turns so often follows a bend
SAME_FOOT_MM = 0.05  # two tabs of a stack whose feet differ by less are cut alike


def panel(shop: Shop, f: kinds.Panel) -> Fitted:
    """Sheet between joints: to the middles of the tubes round it, or, with its edges folded, between their faces."""
    places = np.array([shop.job.joint_by_id[j].place for j in f.joints])
    laid = laid_flat(places)
    outline, warp = laid.flat, laid.off
    whole, folds = Flat(outline), ""
    if f.fold:
        radius = f.radius or f.thickness
        try:
            made = folded_edges(outline, _to_faces(shop, f.joints), f.fold, f.thickness, radius)
        except Problem as problem:
            words, middle = "can't be folded", places.mean(axis=0)
            return shop.of_plate(
                f, f.joints, whole, f.thickness, 1, f.material, middle, words, problem=problem.sentence
            )
        whole = Flat(made.outline, bends=tuple(made.bends))
        outline, folds = made.outline, f", edges folded {said.sizes(f.fold)} high, {said.sizes(radius)} inside the bend"
    through = _through(shop, f, laid) if warp < FLAT_MM else {}
    flat = less(whole, list(through.values())) if through else whole
    material = f.material
    fixings = f", {round(whole.edge / f.pitch)} {FIXINGS[f.fixing]}" if f.pitch else ""
    long, wide = (said.whole_sizes(float(size)) for size in np.ptp(outline, axis=0))
    words = f"sheet {said.sizes(f.thickness)}, {long} x {wide}, {f.fixing}{fixings}{folds}"
    if through:
        words += f", cut out for {', '.join(through)}"
    weld = whole.edge if f.fixing == "welded" else 0.0
    return shop.of_plate(
        f,
        f.joints,
        flat,
        f.thickness,
        1,
        material,
        places.mean(axis=0),
        words,
        weld=weld,
        warp=warp,
        shown=places_of(places),
    )


def _to_faces(shop: Shop, joints: tuple[str, ...]) -> Floats:
    """How far inside of the way from each joint to the next the face of the tube between them is, mm (n,): 0 where no
    tube is."""
    between = {frozenset(t.ends): max(shop.shape(t.id).size) / 2 for t in shop.job.tubes}
    following = (*joints[1:], joints[0])
    return np.array([between.get(frozenset(pair), 0.0) for pair in zip(joints, following, strict=True)])


def _through(shop: Shop, f: kinds.Panel, laid: Laid) -> dict[str, Floats]:
    """The outlines (k, 2) of what passes through a panel, by tube, each with a little room: not of tubes that end at it
    or run along its rim."""
    lines = shop.lines
    before, after = ((at - laid.middle) @ laid.axes[2] for at in (lines.start, lines.stop))
    crosses = np.flatnonzero((before * after < 0) & (np.minimum(np.abs(before), np.abs(after)) > FLAT_MM))
    made: dict[str, Floats] = {}
    sheet = Flat(laid.flat)
    for row in crosses.tolist():
        tube = shop.job.tubes[int(lines.owner[row])]
        way = lines.stop[row] - lines.start[row]
        at = lines.start[row] + way * before[row] / (before[row] - after[row])
        way = way / np.linalg.norm(way)
        spot = (at - laid.middle) @ laid.axes[:2].T
        if set(tube.ends) & set(f.joints) or not sheet.holds(spot[None])[0] or abs(way @ laid.axes[2]) < GRAZES:
            continue
        axes = axes_at(shop.job, tube, float(lines.share[row].mean()) * route_of(shop.job, tube).length)
        rim = at + shop.shapes[tube.section].grown(ROOM_MM).contour.lines(ROUND)[1] @ axes[1:]
        rim = rim - ((rim - laid.middle) @ laid.axes[2] / (way @ laid.axes[2]))[:, None] * way
        made[tube.id] = (rim - laid.middle) @ laid.axes[:2].T
    return made


def _corner(shop: Shop, joint: str, tubes: tuple[str, str], leg: float) -> tuple[Flat, Floats, Floats, Floats]:
    """The plate in a corner, its three corners in the car (3, 3), and the two tubes' directions away from the joint
    (3,), (3,).

    It reaches `leg` along both tubes from the joint, and starts where their faces meet.
    """
    at = np.array(shop.job.joint_by_id[joint].place)
    ways = [shop.axes[t, joint][0] * (1 if shop.tube(t).a == joint else -1) for t in tubes]
    angle = math.acos(float(np.clip(ways[0] @ ways[1], -1, 1)))
    halves = [max(shop.shape(t).size) / 2 for t in tubes]
    across = [(o - (o @ w) * w) / max(math.sin(angle), 1e-9) for w, o in ((ways[0], ways[1]), (ways[1], ways[0]))]
    # the faces meet at p·way0 + q·way1, which is half a tube from either axis
    meet = ways[0] * halves[1] / math.sin(angle) + ways[1] * halves[0] / math.sin(angle)
    corners = np.array([meet, leg * ways[0] + halves[0] * across[0], leg * ways[1] + halves[1] * across[1]])
    flat = np.stack([corners @ ways[0], corners @ across[0]], axis=1)
    return Flat(flat), at + corners, ways[0], ways[1]


def _stiffened(shop: Shop, f: Any, plates: int) -> tuple[Stiffener, ...]:
    """The two tubes of a corner plate, stiffer over half its leg, as tube and half of its depth bent together."""
    made = []
    _, _, one, two = _corner(shop, f.joint, f.tubes, f.leg)
    normal = np.cross(one, two)
    normal = normal / np.linalg.norm(normal)
    for name in f.tubes:
        tube, axes = shop.tube(name), shop.axes[name, f.joint]
        own = shop.section(shop.shape(name), tube.material)
        depth, area = f.leg / 2, f.leg / 2 * f.thickness * plates
        lever = (max(shop.shape(name).size) + depth) / 2
        gain = plates * f.thickness * depth**3 / 12 + own[0] * area / (own[0] + area) * lever**2
        about_y, about_z = float(normal @ axes[1]) ** 2, float(normal @ axes[2]) ** 2
        length = route_of(shop.job, tube).length
        start = 0.0 if tube.a == f.joint else max(length - f.leg / 2, 0.0)
        made.append(
            Stiffener(
                name, start, min(start + f.leg / 2, length), np.array([0.0, gain * about_y, gain * about_z, 0, 0, 0])
            )
        )
    return tuple(made)


def gusset(shop: Shop, f: kinds.Gusset) -> Fitted:
    """A plate in the corner of two tubes."""
    flat, corners, *_ = _corner(shop, f.joint, f.tubes, f.leg)
    words = f"plate {said.sizes(f.thickness)}, corner {said.sizes(f.leg)} x {said.sizes(f.leg)}" + (
        f", {f.plates} off" if f.plates > 1 else ""
    )
    material = shop.tube(f.tubes[0]).material
    return shop.of_plate(
        f,
        (f.joint, *f.tubes),
        flat,
        f.thickness,
        f.plates,
        material,
        corners.mean(axis=0),
        words,
        shown=places_of(corners),
        weld=f.plates * 2 * (f.leg - max(shop.shape(f.tubes[0]).size) / 2),
        stiffens=_stiffened(shop, f, f.plates),
    )


def haunch(shop: Shop, f: kinds.Haunch) -> Fitted:
    """Two plates in a corner and a strip that closes them."""
    flat, corners, *_ = _corner(shop, f.joint, f.tubes, f.leg)
    material = shop.tube(f.tubes[0]).material
    strip = float(np.linalg.norm(flat.outline[1] - flat.outline[2]))
    width = min(shop.shape(f.tubes[0]).size)
    words = (
        f"2 plates {said.sizes(f.thickness)}, corner {said.sizes(f.leg)} x {said.sizes(f.leg)}, "
        f"and a strip {said.whole_sizes(strip)} x {said.sizes(width)}"
    )
    kg = 2 * shop.kg(flat.area, f.thickness, material) + shop.kg(strip * width, f.thickness, material)
    return Fitted(
        f.id,
        f.kind,
        (f.joint, *f.tubes),
        words,
        kg,
        corners.mean(axis=0),
        material,
        flat,
        2,
        f.thickness,
        shown=places_of(corners),
        weld=2 * flat.edge + 2 * width,
        stiffens=_stiffened(shop, f, 2),
    )


def _laid(shop: Shop, tube: str, at: float, outline: Floats) -> tuple[Place, ...]:
    """An outline (n, 2), along a tube and across it, in the car; across is up, or for an upright tube outward."""
    place, way = route_of(shop.job, shop.tube(tube)).at(at)
    across = clocked(way, float(place[1]), 0.0)
    return places_of(place + outline[:, :1] * way + outline[:, 1:] * across)


def fish_plate(shop: Shop, f: kinds.FishPlate) -> Fitted:
    """A plate along a tube, and along the one that goes on from its end, which follows every kick."""
    place, _, _ = shop.spot(f.tube, f.at)
    spine, runs = _spine(shop, f)
    flat_spine, warp = flattened_line(spine)
    tip = min(f.depth, f.length / 3) if f.ends == "tapered" else 0.0
    material = shop.tube(f.tube).material
    try:
        flat = Flat(along_spine(flat_spine, f.depth, tip))
    except Problem as problem:
        return Fitted(f.id, f.kind, (f.tube,), "plate", 0.0, place, material, problem=f"{f.id}: {problem}")
    width = min(shop.shape(f.tube).size)
    area = f.sides * f.depth * f.thickness
    adds = np.array([area, area * f.depth**2 / 12, area * ((width + f.thickness) / 2) ** 2, 0.0, 0.0, area * 5 / 6])
    turned = [f"{math.degrees(abs(t)):.1f}°" for t in turns_of(flat_spine)]
    kicked = f", kicked {' and '.join(turned)}" if len(turned) < MANY else f", turned {_all_of(flat_spine)}"
    ends = f"{f.ends} ends{kicked}" if turned else f"{f.ends} ends"
    return shop.of_plate(
        f,
        (f.tube,),
        flat,
        f.thickness,
        f.sides,
        material,
        place,
        f"plate {said.sizes(f.thickness)}, {said.sizes(f.length)} x {said.sizes(f.depth)}, {ends}, {f.sides} off",
        weld=f.sides * flat.edge,
        warp=warp,
        shown=_laid(shop, f.tube, f.at, flat.outline) if not turned else _in_plane(spine, flat_spine, flat.outline),
        stiffens=tuple(Stiffener(name, start, stop, adds) for name, start, stop in runs),
    )


def _all_of(line: Floats) -> str:
    return f"{math.degrees(abs(sum(turns_of(line)))):.0f}° round a bend"


def _spine(shop: Shop, f: kinds.FishPlate) -> tuple[Floats, list[tuple[str, float, float]]]:
    """The corners (n, 3) of the line that a fish plate runs along, mm, and which stretch of which tube it covers."""
    tube = shop.tube(f.tube)
    route = route_of(shop.job, tube)
    start, stop = f.at - f.length / 2, f.at + f.length / 2
    points, runs = [], []
    if start < 0 and (before := _goes_on(shop, tube, tube.a)):
        more, run = _stretch(shop, before, tube.a, -start)
        points, runs = more[::-1], [run]
    inner = [float(d) for d in route.distances if max(start, 0.0) < d < min(stop, route.length)]
    own = [max(start, 0.0), *inner, min(stop, route.length)]
    points += [route.at(d)[0] for d in own]
    runs.append((tube.id, own[0], own[-1]))
    if stop > route.length and (after := _goes_on(shop, tube, tube.b)):
        more, run = _stretch(shop, after, tube.b, stop - route.length)
        points, runs = points + more, [*runs, run]
    line = np.array(points)
    apart = np.linalg.norm(np.diff(line, axis=0), axis=1) > SAME_FOOT_MM
    return line[np.concatenate([[True], apart])], runs


def _goes_on(shop: Shop, tube: Tube, joint: str) -> Tube | None:
    """The tube that goes on from another's end, by no more than a kick of GOES_ON; None where there is none."""
    into = shop.axes[tube.id, joint][0] * (-1 if tube.a == joint else 1)
    found = [
        (float(shop.axes[t.id, joint][0] @ into) * (1 if t.a == joint else -1), t.id)
        for t in shop.job.tubes_at[joint]
        if t.id != tube.id
    ]
    best = max(found, default=(0.0, ""))
    return shop.tube(best[1]) if best[0] > math.cos(GOES_ON) else None


def _stretch(shop: Shop, tube: Tube, joint: str, reach: float) -> tuple[list[Floats], tuple[str, float, float]]:
    """The corners of a tube from one of its joints on, so far as a plate reaches, mm, and that stretch of it."""
    route = route_of(shop.job, tube)
    reach = min(reach, route.length)
    if tube.a == joint:
        marks = [float(d) for d in route.distances if 0 < d < reach]
        return [route.at(d)[0] for d in (*marks, reach)], (tube.id, 0.0, reach)
    marks = [float(d) for d in route.distances[::-1] if route.length - reach < d < route.length]
    return [route.at(d)[0] for d in (*marks, route.length - reach)], (tube.id, route.length - reach, route.length)


def _in_plane(spine: Floats, flat_spine: Floats, outline: Floats) -> tuple[Place, ...]:
    """An outline (k, 2) beside a flat line (n, 2) put back beside the line (n, 3) that it was laid flat from."""
    middle, flat_middle = spine.mean(axis=0), flat_spine.mean(axis=0)
    turn = np.linalg.lstsq(flat_spine - flat_middle, spine - middle, rcond=None)[0]
    return places_of(middle + (outline - flat_middle) @ turn)


def tab(shop: Shop, f: kinds.Tab) -> Fitted:
    """Brackets on a tube, each cut to the foot that it stands on."""
    words = (
        f"plate {said.sizes(f.thickness)}, {said.sizes(f.width)} x {said.sizes(f.height)}, hole {said.sizes(f.hole)}"
        + (f", {f.more} more {said.sizes(f.pitch)} apart" if f.more else "")
        + (f", {f.tabs} drilled in one stack, {said.sizes(f.gap)} apart" if f.tabs > 1 else "")
    )
    material = shop.tube(f.tube).material
    try:
        stand = tab_stand(shop.job, f)
    except Problem as problem:  # what it carries has been moved
        return Fitted(f.id, f.kind, (f.tube,), words, 0.0, shop.spot(f.tube, f.at)[0], material, problem=str(problem))
    across = np.cross(stand.bolt, stand.off)
    flats, misses, shown = [], 0.0, np.zeros((0, 3))
    for nth in range(f.tabs):
        hole = stand.hole + (nth - (f.tabs - 1) / 2) * (f.gap + f.thickness + f.laminate) * stand.bolt
        foot, beside = tab_foot(stand.tube, hole, stand.off, across, f.width)
        head = f.height - stand.reach
        outline = np.vstack([foot, [[f.width / 2, head], [-f.width / 2, head]]])
        holes = tuple((0.0, stand.reach + n * f.pitch, f.hole) for n in range(f.more + 1))
        flats.append(Flat(outline + [0, stand.reach], holes))
        misses = max(misses, beside)
        if not nth:
            shown = hole + outline[:, :1] * across + outline[:, 1:] * stand.off
    wrong = ""
    if stand.reach + f.furthest + f.hole / 2 >= f.height:
        wrong = (
            f"{f.id} is {said.length(f.height)} high and does not reach round its {'last ' * bool(f.more)}hole, "
            f"{said.length(stand.reach + f.furthest)} off {f.tube}."
        )
    elif misses:
        wrong = f"{f.id} is wider than {f.tube}, {said.length(misses)} over its side."
    unlike = [flat for flat in flats[1:] if np.abs(flat.outline - flats[0].outline).max() > SAME_FOOT_MM]
    own_feet = bool(unlike)
    if f.brace:
        braces = [Flat(np.array([[0.0, 0.0], [f.brace, 0.0], [0.0, f.brace]]))] * 2
        flats, unlike = [*flats, *braces], [*unlike, *braces]
    kg = sum(shop.kg(flat.area, f.thickness, material) for flat in flats)
    kg += f.tabs * shop.kg(flats[0].area, f.laminate, material)
    laminated = f", laminated with {said.sizes(f.laminate)} to {said.sizes(f.thickness + f.laminate)}"
    return Fitted(
        f.id,
        f.kind,
        (f.tube,),
        words
        + (", each cut to its own foot" if own_feet else "")
        + (laminated if f.laminate else "")
        + (f", braced by 2 triangles {said.sizes(f.brace)} x {said.sizes(f.brace)}" if f.brace else ""),
        kg,
        stand.hole,
        material,
        flats[0],
        len(flats),
        f.thickness,
        weld=f.tabs * 2 * f.width + (4 * f.brace if f.brace else 0.0),
        problem=wrong,
        shown=places_of(shown),
        unlike=tuple(unlike),
        second=(f.laminate, f.tabs) if f.laminate else (0.0, 0),
    )


def cap(shop: Shop, f: kinds.Cap) -> Fitted:
    """A plate over a tube's end, as large as the tube."""
    tube = shop.tube(f.tube)
    shape = shop.shapes[tube.taper if tube.taper and f.joint == tube.b else tube.section]
    axes, place = shop.axes[f.tube, f.joint], np.array(shop.job.joint_by_id[f.joint].place)
    outline = shape.contour.lines(ROUND)[1]
    words = f"plate {said.sizes(f.thickness)} as large as the end, " + " x ".join(
        map(said.sizes, dict.fromkeys(shape.size))
    )
    return shop.of_plate(
        f,
        (f.joint, f.tube),
        Flat(outline, ((0.0, 0.0, f.hole),) if f.hole else ()),
        f.thickness,
        1,
        tube.material,
        place,
        words,
        weld=shape.contour.girth,
        shown=places_of(place + outline @ axes[1:]),
    )


def flange(shop: Shop, f: kinds.Flange) -> Fitted:
    """Two plates bolted to each other: one on a tube's end, one on what it meets."""
    tube = shop.tube(f.tube)
    shape = shop.shapes[tube.taper if tube.taper and f.joint == tube.b else tube.section]
    axes, place = shop.axes[f.tube, f.joint], np.array(shop.job.joint_by_id[f.joint].place)
    others = [max(shop.shape(t.id).size) for t in shop.job.tubes_at[f.joint] if t.id != f.tube]
    way = axes[0] if tube.a == f.joint else -axes[0]
    place = place + (max(others, default=0.0) / 2 + f.thickness) * way  # beside what it is bolted to, about
    half = np.array([f.width, f.height]) / 2
    outline = half * [[-1, -1], [1, -1], [1, 1], [-1, 1]]
    words = (
        f"2 plates {said.sizes(f.thickness)}, {said.sizes(f.width)} x {said.sizes(f.height)}, {f.bolts} holes "
        f"{said.sizes(f.hole)}"
    )
    return shop.of_plate(
        f,
        (f.joint, f.tube),
        Flat(outline, flange_holes(f, max(shape.size))),
        f.thickness,
        2,
        tube.material,
        place,
        words,
        weld=shape.contour.girth,
        shown=places_of(place + outline @ axes[1:]),
    )


def foot_plate(shop: Shop, f: kinds.FootPlate) -> Fitted:
    """A plate that a tube's end stands on, its upper side at the joint."""
    tube, shape = shop.tube(f.tube), shop.shape(f.tube)
    axes, place = shop.axes[f.tube, f.joint], np.array(shop.job.joint_by_id[f.joint].place)
    half = np.array([f.width, f.height]) / 2
    outline = half * [[-1, -1], [1, -1], [1, 1], [-1, 1]]
    lean = 1.0 if f.lies == "square" else max(abs(float(axes[0, 2])), GRAZES)
    across = axes[1:] if f.lies == "square" else np.array([[1.0, 0, 0], [0, 1.0, 0]])
    words = f"plate {said.sizes(f.thickness)}, {said.sizes(f.width)} x {said.sizes(f.height)}, {f.lies}"
    words += f", {f.bolts} holes {said.sizes(f.hole)}" if f.bolts else ""
    return shop.of_plate(
        f,
        (f.joint, f.tube),
        Flat(outline, flange_holes(f, max(shape.size))),
        f.thickness,
        1,
        tube.material,
        place,
        words,
        weld=shape.contour.girth / lean,
        shown=places_of(place + outline @ across),
    )
