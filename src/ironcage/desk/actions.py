"""What can be done by key or menu, declared once: menus, shortcuts, help and tests are made from this."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Action:
    """id: the window's method; words: the label; key: its shortcut; group: the menu it is in ('' for none); also: a
    second shortcut."""

    id: str
    words: str
    key: str = ""
    group: str = ""
    also: str = ""


ACTIONS = (
    Action("new_job", "New job", "Ctrl+N", "job"),
    Action("open_file", "Open…", "Ctrl+O", "job"),
    Action("save_file", "Save", "Ctrl+S", "job"),
    Action("save_as", "Save as…", "Ctrl+Shift+S", "job"),
    Action("print_paper", "Print…", "Ctrl+P", "job"),
    Action("undo", "Undo", "Ctrl+Z", "edit"),
    Action("redo", "Redo", "Ctrl+Shift+Z", "edit", also="Ctrl+Y"),
    Action("draw_tubes", "Draw tubes from place to place", "Ctrl+D", "edit"),
    Action("choose_all", "Choose everything", "Ctrl+A", "edit"),
    Action("delete_chosen", "Delete what is chosen", "Delete", "edit"),
    Action("copy_chosen", "Copy what is chosen, with its figures", "Ctrl+C", "edit"),
    Action("paste", "Paste what was copied, or lines to type", "Ctrl+V", "edit"),
    Action("copy_table", "Copy a picture of the table", "Ctrl+Shift+C", "edit"),
    Action("set_mark", "Set the mark here", "Ctrl+M", "edit"),
    Action("view_side", "From the side", "F5", "view"),
    Action("view_plan", "From above", "F6", "view"),
    Action("view_front", "From the front", "F7", "view"),
    Action("view_free", "From anywhere", "F8", "view"),
    Action("fit", "Fit the frame", "F4", "view"),
    Action("fit_chosen", "Fit what is chosen", "Shift+F4", "view"),
    Action("next_list", "Next list of the step", "Ctrl+Tab", "view", also="Ctrl+PgDown"),
    Action("last_list", "List before", "Ctrl+Shift+Tab", "view", also="Ctrl+PgUp"),
    Action("fold_tray", "Fold the lists away or back", "Ctrl+T", "view"),
    Action("show_columns", "All columns of the lists, or those with room", "F12", "view"),
    Action("toggle_tags", "Tags on all joints", "F9", "view"),
    Action("toggle_dark", "Dark or light", "F10", "view"),
    Action("larger", "Larger type", "Ctrl++", "view"),
    Action("smaller", "Smaller type", "Ctrl+-", "view"),
    Action("show_snags", "Snags", "F3", "view"),
    Action("show_card", "Bench card", "F11", "view"),
    Action("focus_entry", "Type a line", "Ctrl+L", "edit"),
    Action("find_rows", "Find rows of the list", "Ctrl+F", "edit"),
    Action("show_pocket", "Pocket: quick sums", "Ctrl+K", "edit"),
    Action("show_help", "Help", "F1", ""),
    Action("close", "Quit", "Ctrl+Q", ""),
)
