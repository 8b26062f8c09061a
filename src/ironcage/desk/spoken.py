"""What a typed line wants of the window rather than of the job: a step, one of its actions, a figure of the tally.

Asked only of a line that the job's own grammar refuses.
"""

import re
from dataclasses import dataclass
from typing import Literal

from ironcage.desk.actions import ACTIONS
from ironcage.desk.pages import STEPS


@dataclass(frozen=True)
class Wish:
    """kind: a step to go to, one of its lists (`step:list`), an action of the window by its id, a figure of the tally
    to explain, or the Job menu."""

    kind: Literal["step", "list", "action", "figure", "menu", "next"]
    id: str

    @property
    def words(self) -> str:
        """What would be done."""
        if self.kind == "step":
            return f"go to {next(s.name for s in STEPS if s.id == self.id)}"
        if self.kind == "list":
            step, _, words = self.id.partition(":")
            return f"open {words} in {next(s.name for s in STEPS if s.id == step)}"
        if self.kind == "action":
            return next(a.words for a in ACTIONS if a.id == self.id)
        return {"menu": "open the Job menu", "next": "go to what Next says"}.get(
            self.kind, "say where it stands in the tally on top"
        )


_STEPS = {
    "brief": "brief|targets?|aims?|rules?|datums?",
    "place": "place|parts|people|clashes|clash|interference",
    "run": "run|suspension|steering|camber|bump steer",
    "frame": "frame|bays|joints|tubes",
    "prove": r"prove|solve|analy[sz]e|analysis|results?|fea|stress(?:es)?|buckling|strength|strong|deflection|modes?|"
    r"(?:natural )?frequenc(?:y|ies)|lighter|lightest|simulate|calculate",
    "cut": r"cut|cut ?list|cutting list|templates?|notch(?:er|es)?|fish ?mouths?|copes?|saddles?|mitres?|miters?",
    "jig": "jig|table|stands|fixture",
    "weld": "weld|welding|weld order",
    "true": "true|straight|square|survey|readings",
    "log": "log|diary|build book|book|hours|orders",
}
_ACTIONS = {
    "undo": "undo|go back|take back|ctrl.?z",
    "redo": "redo|again|ctrl.?y",
    "save_as": "save as.*",
    "print_paper": "print(?: it| this| out| all)?|printer|ctrl.?p",
    "save_file": "save|save file|save job|ctrl.?s",
    "open_file": "open|open file|load|load file|open job",
    "new_job": "new|new job|new file|new project|clear all",
    "close": "quit|exit|close|bye|leave",
    "show_help": r"help|\?|h|man|commands|what can i (?:do|type)|how does .*|tutorial|manual",
    "show_snags": r"(?:show |list )?(?:snags?|problems?|errors?|warnings?|faults?)|what is wrong|what's wrong|check",
    "draw_tubes": r"draw(?: a| the)?(?: tubes?| lines?| rails?)?|sketch",
    "choose_all": "select all|choose all|choose everything|all",
    "fit": r"zoom|zoom (?:all|fit|extents|out)|fit|fit (?:all|frame|view)|reset view",
    "fit_chosen": r"zoom (?:in|to|selection|selected|chosen).*",
    "view_plan": r"(?:view )?(?:from )?(?:top|plan|above)(?: view)?",
    "view_side": r"(?:view )?(?:from )?(?:side|left|right) view|side",
    "view_front": r"(?:view )?(?:from )?(?:front|nose)(?: view)",
    "view_free": r"(?:3d|iso|isometric|perspective)(?: view)?",
    "toggle_dark": r"dark|dark mode|night|light mode",
    "show_pocket": r"pocket|calculator|calc|sums?|convert",
    "show_card": r"bench card|card",
    "set_mark": r"mark|set mark|compare",
    "copy_table": r"copy (?:a )?picture.*|screenshot|screen shot",
    "show_columns": r"(?:show )?(?:all )?columns|more columns|f12",
    "toggle_tags": r"tags|labels|names|numbers|show (?:names|tags|labels|numbers)",
}
_LISTS = {
    "brief:Variants": "variants?|compare variants",
    "brief:Vehicles": "vehicles|other vehicles|other cars|compare vehicles",
    "frame:Shelf": "shelf|materials|sections",
    "frame:Swap": "swap|equal sections?|compare sections?",
    "frame:Stations": "widths at .*|stations list",
    "frame:Spacing": r"rail spacing|spacing (?:of rails|list)|room between (?:the )?rails",
    "frame:Bays": "open bays?|bays list",
    "frame:Fittings": "fittings|gussets list",
    "frame:Changes": "changes|what changed|what has changed",
    "prove:Strength": "strength list|how strong|safety factors?|margins?",
    "prove:Cases": "cases|load cases?",
    "prove:Next": "braces|best braces?|which brace.*|what to brace.*|brace against .*|best brace .*",
    "prove:Balance": "balance|roll balance",
    "prove:Mounts": "mounts|mount forces|engine mounts|torque reaction",
    "prove:Vibration": "vibration|shaking",
    "prove:Lightest": "lightest frame",
    "cut:Bars": "bars?(?: to buy)?|what to buy|shopping list|bill of materials|bom|nest(?:ing)?|offcuts",
    "cut:Plates": "plates|sheet to buy|nest plates",
    "cut:Turned": r"turned parts?|lathe|bushes|bushings|spacers",
    "cut:Here": r"here or out|quotes?|send (?:it )?out|cut(?:ting)? hours|get (?:a )?quote",
    "place:People": "who fits|compare (?:drivers?|people|statures?).*|does .*(?:driver|person|passenger) fit.*",
    "place:Holes": "holes|bolt patterns?|(?:compare )?(?:section lines?|roof lines?|roof heights?|roofs)",
    "place:Stance": "stance|wheelie|will it wheelie|how fast does it accelerate",
}
_FIGURES = {
    "torsion": r"(?:torsional |twist |torsion )?stiffness|how stiff.*|torsion|twist|rigidity",
    "frame mass": r"how heavy.*|what does (?:frame|it) weigh|frame (?:weight|mass)|weight of frame|mass of frame",
    "car mass": r"(?:what )?(?:is )?(?:weight|mass) of car|car (?:weight|mass)|total (?:weight|mass)|all up weight",
    "cg height": r"cg|c\.?g\.?|cg height|centre of gravity|center of gravity|centre of mass|center of mass",
    "wheelbase": r"(?:what )?(?:is )?wheel ?base",
}
_GOING = r"(?:go to|show|open|view|see|print|do|make|is|what is|what)?\s*(?:enough|step|page)?\s*"


def wish(line: str) -> Wish | None:
    """What a line wants of the window; None where it wants nothing of it."""
    if re.search(r"\b(?:these|those|them|together)\b", line.lower()):
        return None  # it is about what is chosen
    from ironcage.core.job.text.guesses import tidied

    text = tidied(line).lower() or line.strip().lower()
    if re.fullmatch(r"export.*|import.*|dxf|pdf|csv|menu", text) and not re.search("cut|template", text):
        return Wish("menu", "")
    if re.fullmatch(r"next|what(?: is)? next|what now|what to do(?: next)?|now what", text):
        return Wish("next", "")
    for kind, table in (("action", _ACTIONS), ("figure", _FIGURES)):
        for name, words in table.items():
            if re.fullmatch(rf"(?:{words})", text):
                return Wish(kind, name)  # type: ignore[arg-type]
    for place, words in _LISTS.items():
        if re.fullmatch(rf"{_GOING}(?:{words})", text):
            return Wish("list", place)
    for step, words in _STEPS.items():
        if re.fullmatch(rf"{_GOING}(?:{words})(?:\s+(?:step|page|list|enough|order))?", text):
            return Wish("step", step)
    return None
