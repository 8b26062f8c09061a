"""The kinds of file that can be made from a job, declared once for the command line, the window and the docs."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import get_args

from ironcage.core.answers.cut import bars, pieces
from ironcage.core.answers.jig import stands
from ironcage.core.answers.run.armframe import Arm, arm_job
from ironcage.core.exchange import lists
from ironcage.core.exchange.bending import bend_sheet, outside_sheet
from ironcage.core.exchange.buildbook import to_build_book
from ironcage.core.exchange.capture import to_capture
from ironcage.core.exchange.drawing import Sheet
from ironcage.core.exchange.dxf import to_dxf
from ironcage.core.exchange.folds import fold_sheets
from ironcage.core.exchange.labels import label_sheets
from ironcage.core.exchange.mockup import mockup_csv, mockup_sheet
from ironcage.core.exchange.pdf import paper_room, to_pdf
from ironcage.core.exchange.piececards import card_sheets
from ironcage.core.exchange.plan import plan
from ironcage.core.exchange.plate import fitting_plate, plate, plates_drawing
from ironcage.core.exchange.points import to_points_dxf
from ironcage.core.exchange.quoting import order
from ironcage.core.exchange.report import to_report
from ironcage.core.exchange.segments import segment_sheets
from ironcage.core.exchange.setup import to_links_csv, to_setup
from ironcage.core.exchange.share import to_shelf_json
from ironcage.core.exchange.solver_input import to_solver_input
from ironcage.core.exchange.step import to_step
from ironcage.core.exchange.svg import to_svg
from ironcage.core.exchange.templates import end_of, template, templates
from ironcage.core.exchange.turning import turned_sheets
from ironcage.core.exchange.vtu import to_vtu
from ironcage.core.exchange.wireframe import to_frame_dxf
from ironcage.core.exchange.wraps import wrap
from ironcage.core.job.store.file import to_text
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle
from ironcage.problem import Problem, nearest


@dataclass(frozen=True)
class Kind:
    """A kind of file. make: the job and, where `takes` names it, one more word, to the file's bytes."""

    name: str
    ending: str
    says: str
    make: Callable[[Job, str], bytes]
    takes: str = ""


ARM, AXLE, PATTERN, FITTING, TUBE, FOLDED, STRAIGHT, PIPE, END = (
    "ARM",
    "END",
    "PATTERN",
    "FITTING",
    "TUBE",
    "FOLDED TUBE",
    "STRAIGHT TUBE",
    "PIPE",
    "TUBE:JOINT",
)
NAMED = {  # what has to be named for a kind: how it is asked for, and an example
    END: ("Which end?", "For example T35L:J19L"),
    TUBE: ("Which tube?", "A bent one, for example T2"),
    PIPE: ("Which pipe?", "Its name or id, such as B32: one that is made of mitres"),
    STRAIGHT: ("Which tube?", "A straight one, for example T35L, or T35L:A3, T35L:roll 610"),
    FOLDED: ("Which tube?", "A folded one, for example T2"),
    PATTERN: ("Which bolt pattern?", "Its name or id, such as H40"),
    FITTING: ("Which fitting?", "Its id, such as F1"),
    AXLE: ("Which end?", "front or rear"),
    ARM: ("Which arm?", "Of a wishbone, for example: front lower"),
}


def _one_template(job: Job, which: str) -> Sheet:
    tube, _, end = which.partition(":")
    piece = pieces.answer(job).piece(job.tube(tube).id)
    return template(job, piece, end_of(piece, end or "first"))


def _templates_of(job: Job, which: str) -> list[Sheet]:
    """The template of an end, or of both ends of a tube (`T35L:both`), one above the other."""
    tube, _, end = which.partition(":")
    if end.lower() != "both":
        return [_one_template(job, which)]
    piece = pieces.answer(job).piece(job.tube(tube).id)
    sheets = [template(job, piece, e) for e in (piece.first, piece.second) if e.kind != "square" and not e.problem]
    if not sheets:
        raise Problem(f"{piece.id} is cut square at both ends and needs no template.", where=tube)
    return sheets


def _wrap(job: Job, which: str) -> bytes:
    """The paper round a tube (`T35L`), on A4 unless another paper is named (`T35L:A3`, `T35L:roll 610`)."""
    tube, _, paper = which.partition(":")
    paper = paper.strip() or "A4"
    piece = pieces.answer(job).piece(job.tube(tube).id)
    return to_pdf([wrap(job, piece, paper_room(paper))], f"{job.brief.name}, {piece.id} both ends", paper)


def _arm(job: Job, which: str) -> bytes:
    """The job of an arm, `front lower`."""
    axle, _, name = which.strip().lower().partition(" ")
    end = next((a for a in get_args(Axle) if a == axle), None)
    arm = next((a for a in get_args(Arm) if a == name), None)
    if end is None or arm is None:
        raise Problem(f"‘{which}’ is no arm of a wishbone.", where=which, hint="For example: front lower")
    return to_text(arm_job(job, end, arm)).encode("utf-8")


KINDS: tuple[Kind, ...] = (
    Kind("bars-csv", ".csv", "list of bars", lambda job, _: lists.bars_csv(job, bars.find_bars(job))),
    Kind("cut-csv", ".csv", "cut list", lambda job, _: lists.cut_csv(job, pieces.answer(job))),
    Kind(
        "templates-pdf",
        ".pdf",
        "all wrap templates at 1:1",
        lambda job, paper: to_pdf(templates(job, pieces.answer(job)), f"{job.brief.name}, templates", paper or "A4"),
        "paper",
    ),
    Kind(
        "template-svg",
        ".svg",
        "one wrap template at 1:1",
        lambda job, which: to_svg(_one_template(job, which)),
        END,
    ),
    Kind(
        "template-pdf",
        ".pdf",
        "one wrap template at 1:1, to print",
        lambda job, which: to_pdf(_templates_of(job, which), f"{job.brief.name}, {which.replace(':', ' at ')}", "A4"),
        END,
    ),
    Kind(
        "cards-pdf",
        ".pdf",
        "a card for each piece, for the bench",
        lambda job, tubes: to_pdf(card_sheets(job, tubes), f"{job.brief.name}, cards", "A4"),
        "TUBES",
    ),
    Kind("pieces-step", ".step", "pieces as solids, for a tube laser", to_step, "TUBES"),
    Kind("wrap-pdf", ".pdf", "one paper round a straight tube with both its cuts", _wrap, STRAIGHT),
    Kind(
        "bend-pdf",
        ".pdf",
        "bend card of a tube with its outline at 1:1, tiled",
        lambda job, tube: to_pdf([bend_sheet(job, tube)], f"{job.brief.name}, {tube} bends", "A4"),
        TUBE,
    ),
    Kind("bend-dxf", ".dxf", "outline of a bent tube at 1:1", lambda job, tube: to_dxf(bend_sheet(job, tube)), TUBE),
    Kind(
        "outside-pdf",
        ".pdf",
        "sheet for a tube that is bent outside, to be filled in on return",
        lambda job, tube: to_pdf([outside_sheet(job, tube)], f"{job.brief.name}, {tube} to be bent", "A4"),
        TUBE,
    ),
    Kind(
        "fold-pdf",
        ".pdf",
        "notches of a folded tube at 1:1",
        lambda job, tube: to_pdf(fold_sheets(job, tube), f"{job.brief.name}, {tube} notches", "A4"),
        FOLDED,
    ),
    Kind(
        "labels-pdf",
        ".pdf",
        "a label for each piece, with an arrow to the front",
        lambda job, paper: to_pdf(label_sheets(job), f"{job.brief.name}, labels", paper or "A4"),
        "paper",
    ),
    Kind("plan-dxf", ".dxf", "jig plan", lambda job, _: to_dxf(plan(job, stands.answer(job)))),
    Kind(
        "plan-pdf",
        ".pdf",
        "jig plan tiled at 1:1",
        lambda job, paper: to_pdf([plan(job, stands.answer(job))], f"{job.brief.name}, jig plan", paper or "A4"),
        "paper",
    ),
    Kind("setup-pdf", ".pdf", "set-up sheet of the wheels and their links", lambda job, _: to_setup(job)),
    Kind("arm-cage", ".cage", "arm of a wishbone as its own job, left and right", _arm, ARM),
    Kind("capture-pdf", ".pdf", "card to measure a donor's corner by", to_capture, AXLE),
    Kind("links-csv", ".csv", "links of the wheels, lengths and tilts", lambda job, _: to_links_csv(job)),
    Kind("stands-csv", ".csv", "list of stands", lambda job, _: lists.stand_csv(job, stands.answer(job))),
    Kind(
        "plate-dxf",
        ".dxf",
        "plate with the holes of a bolt pattern",
        lambda job, name: to_dxf(plate(job, name)),
        PATTERN,
    ),
    Kind(
        "plate-pdf",
        ".pdf",
        "plate with the holes of a bolt pattern, 1:1",
        lambda job, name: to_pdf([plate(job, name)], f"{job.brief.name}, {name}", "A4"),
        PATTERN,
    ),
    Kind(
        "mockup-pdf",
        ".pdf",
        "mock-up pack: sticks to cut and a sketch",
        lambda job, paper: to_pdf([mockup_sheet(job)], f"{job.brief.name}, mock-up", paper or "A4"),
        "paper",
    ),
    Kind("mockup-csv", ".csv", "mock-up sticks to cut", lambda job, _: mockup_csv(job)),
    Kind("frame-dxf", ".dxf", "frame as lines, one a tube", lambda job, _: to_frame_dxf(job)),
    Kind(
        "fitting-pdf",
        ".pdf",
        "plate of a fitting on paper, 1:1",
        lambda job, name: to_pdf([fitting_plate(job, name)], f"{job.brief.name}, {name}", "A4"),
        FITTING,
    ),
    Kind("fitting-dxf", ".dxf", "plate of a fitting, 1:1", lambda job, name: to_dxf(fitting_plate(job, name)), FITTING),
    Kind("order-json", ".json", "order of the pieces to be cut, for a shop", lambda job, _: order(job)),
    Kind("plates-dxf", ".dxf", "all plates laid out on sheets", lambda job, _: to_dxf(plates_drawing(job))),
    Kind("turned-csv", ".csv", "list of what is turned", lambda job, _: lists.turned_csv(job)),
    Kind(
        "turned-pdf",
        ".pdf",
        "what is turned, at 1:1 with its limits",
        lambda job, _: to_pdf(turned_sheets(job), f"{job.brief.name}, turned parts", "A4"),
    ),
    Kind(
        "segments-pdf",
        ".pdf",
        "papers of the segments of a pipe, 1:1",
        lambda job, name: to_pdf(segment_sheets(job, name), f"{job.brief.name}, {name}", "A4"),
        PIPE,
    ),
    Kind("fittings-csv", ".csv", "list of sheet and fittings", lambda job, _: lists.fitting_csv(job)),
    Kind("points-dxf", ".dxf", "joints and mount holes as points", lambda job, _: to_points_dxf(job)),
    Kind("shelf-json", ".json", "parts and shelf to share", lambda job, _: to_shelf_json(job)),
    Kind("report-pdf", ".pdf", "stiffness and strength, the whole of Prove", lambda job, _: to_report(job)),
    Kind("book-pdf", ".pdf", "build book", lambda job, _: to_build_book(job)),
    Kind("log-csv", ".csv", "log", lambda job, _: lists.log_csv(job)),
    Kind("shape-vtu", ".vtu", "shape and stress for other viewers", lambda job, _: to_vtu(job)),
    Kind("solver-inp", ".inp", "model as text for a general solver", lambda job, _: to_solver_input(job)),
    Kind("strength-csv", ".csv", "strength of every tube", lambda job, _: lists.strength_csv(job)),
    Kind("joints-csv", ".csv", "list of joints", lambda job, _: lists.joint_csv(job)),
)


def kind(name: str) -> Kind:
    """A kind by its name; refuses an unknown one with the nearest."""
    names = [k.name for k in KINDS]
    if name not in names:
        raise Problem(
            f"There is no file kind ‘{name}’.",
            where=name,
            hint=f"{nearest(name, names)} There are {', '.join(names)}.".strip(),
        )
    return KINDS[names.index(name)]
