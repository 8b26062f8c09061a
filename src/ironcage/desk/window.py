"""The main window: puts the parts together and passes messages between them."""

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, QPoint, QSize, Qt, QTimer
from PyQt6.QtGui import QAction, QCloseEvent, QDragEnterEvent, QDropEvent, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QMainWindow,
    QSplitter,
    QStackedWidget,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk import questions
from ironcage.desk.actions import ACTIONS, Action
from ironcage.desk.asker import Answered, Asker, FollowUp
from ironcage.desk.copying import copied, pasted
from ironcage.desk.entry import Entry
from ironcage.desk.files import Files
from ironcage.desk.look import DARK, LIGHT, palette, style, text_font
from ironcage.desk.menus import JobMenu, PrintMenu, TableMenu
from ironcage.desk.pages import FIRST_STEP, STEPS, step_called
from ironcage.desk.pages.page import Page
from ironcage.desk.recoverybar import RecoveryBar
from ironcage.desk.routecard import RouteCard
from ironcage.desk.session import Session
from ironcage.desk.settings import SCALES, Settings
from ironcage.desk.snags import LISTS, NextLine, SnagList, marks, mending
from ironcage.desk.spoken import Wish
from ironcage.desk.table.view import TableView
from ironcage.desk.tablework import TableWork
from ironcage.desk.tally import Tally
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.workstrip import WorkStrip
from ironcage.problem import Problem

if TYPE_CHECKING:
    from ironcage.core.answers.shared.snag import Snag
    from ironcage.desk.benchcard import BenchCard
    from ironcage.desk.helppage import HelpPage
    from ironcage.desk.pocketwindow import PocketWindow

TYPE_POINTS = 10.0
SIZE = QSize(1280, 800)
FRAME_PX = 40  # what a window manager adds above and below
TRAY_PX = 250  # the least height in which a step's captions and graphs have room, in type as designed
CHECKS_LATER_MS = 250  # snags follow the tally once edits pause


class Tray(QStackedWidget):
    """The pages, as wide as the open one needs: those out of sight still have the sizes of type as it was."""

    def minimumSizeHint(self) -> QSize:
        here = self.currentWidget()
        return here.minimumSizeHint() if here else QSize()


class Window(QMainWindow):
    """Route card on the left; tally, table, tray, entry and next line beside it."""

    def __init__(self, folder: Path) -> None:
        """`folder` keeps settings and recovery journals."""
        super().__init__()
        self.setAcceptDrops(True)
        self.settings = Settings(folder)
        self.look = DARK if self.settings.dark else LIGHT
        self._apply_type()  # before any widget is made, so that all start with it
        self.session = Session(folder / "recovery")
        self.asker, self.slow = Asker(), Asker()  # the tally never waits behind a page or the snags
        self._after_tally = FollowUp(self.slow)
        self.strip = WorkStrip(self)
        self.files = Files(self, self.session, self.settings, self.strip, folder / "recovery")
        self.table = TableView()
        self.tally = Tally()
        self.entry = Entry(self.session)
        self.next = NextLine()
        self.snags = SnagList()
        self.recovery = RecoveryBar()
        self.pages: dict[str, Page] = {}  # made when their step is first opened
        self.route = RouteCard(STEPS)
        self.tray = Tray()
        self.tray.addWidget(self.snags)
        self.step = FIRST_STEP
        self._dragged_to = self.session.job  # the job as the mouse has it in the middle of a drag
        self.found_snags: tuple[Snag, ...] = ()
        self._help: HelpPage | None = None
        self._pocket: PocketWindow | None = None
        self.card: BenchCard | None = None
        self._build()
        self._make_actions()
        self._connect()
        self._apply_look()
        if not self.restoreGeometry(self.settings.geometry):
            self._take_room()
        self.go(self.step)
        self._show_job()
        self.files.look_for_lost()

    # putting together

    def _take_room(self) -> None:
        """The window's first size: as designed, or all of a screen that has no more room than that."""
        room = QApplication.primaryScreen().availableSize()
        self.resize(min(SIZE.width(), room.width()), min(SIZE.height(), room.height()))
        if room.width() <= SIZE.width() or room.height() < SIZE.height() + FRAME_PX:
            self.setWindowState(Qt.WindowState.WindowMaximized)

    def _build(self) -> None:
        self.split = QSplitter(Qt.Orientation.Vertical)
        self.split.addWidget(self.table)
        self.split.addWidget(self.tray)
        self.split.setChildrenCollapsible(False)
        right = QVBoxLayout()
        right.setContentsMargins(0, 0, 0, 0)
        right.setSpacing(0)
        for part in (self.recovery, self.tally, self.split, self.entry, self.strip, self.next):
            right.addWidget(part, 1 if part is self.split else 0)
        whole = QWidget()
        whole.setObjectName("paper")
        box = QHBoxLayout(whole)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        box.addWidget(self.route)
        box.addLayout(right, 1)
        self.setCentralWidget(whole)

    def _make_actions(self) -> None:
        self.qactions: dict[str, QAction] = {}
        for declared in ACTIONS:
            made = QAction(declared.words, self)
            made.setShortcuts([QKeySequence(key) for key in (declared.key, declared.also) if key])
            made.triggered.connect(self._doer(declared))
            self.addAction(made)
            self.qactions[declared.id] = made
        self.menu = JobMenu(self, self.files, self.qactions)
        self.route.menu.setMenu(self.menu)

    def _doer(self, declared: Action) -> Callable[[bool], None]:
        owner = self.files if hasattr(self.files, declared.id) else self
        return lambda _checked: getattr(owner, declared.id)()

    def _connect(self) -> None:
        s = self.session
        s.changed.connect(self._show_job)
        s.chose.connect(self._show_chosen)
        s.saved.connect(self._show_names)
        for asker in (self.asker, self.slow):
            asker.answered.connect(self._answered)
            asker.broke.connect(self._broke)
            asker.hold()  # the first figures load modules, which would keep the window off the screen a tenth longer
            self.table.appeared.connect(asker.release)
        self.table.broke.connect(self._broke)
        self.table.typed.connect(self.entry.begin)
        self.table.asked.connect(self._offer)
        self.mouse = TableWork(self.table, s, self.entry, lambda: self.page)
        self.mouse.tried.connect(self._try_figures)
        s.started.connect(lambda: self.table.draw(on=False))
        self.entry.line.textChanged.connect(lambda text: setattr(self.table, "spotting", text.startswith("scale ")))
        self.entry.left.connect(self.table.setFocus)
        self.entry.wished.connect(self._grant)
        self.entry.pasted.connect(self.paste)
        self.route.went.connect(self.go)
        self.route.undo.clicked.connect(s.undo)
        self.route.redo.clicked.connect(s.redo)
        self.tally.went.connect(self.go)
        self.tally.snags.connect(self.show_snags)
        self.next.went.connect(self._jump)
        self.snags.went.connect(self._mend)
        self.snags.picked.connect(s.choose)
        for listing in (self.route, self.next, self.snags):
            self.tally.aged.connect(listing.show_old)
        self.split.splitterMoved.connect(lambda _at, _index: self._keep_tray())
        s.started.connect(self.table.fit)
        self.files.found.connect(self.recovery.offer)
        self.recovery.opened.connect(self.files.recover)
        self.recovery.dropped.connect(self.files.drop)
        self.strip.told.connect(s.told)
        self._checks_later = QTimer(self)
        self._checks_later.setSingleShot(True)
        self._checks_later.setInterval(CHECKS_LATER_MS)
        self._checks_later.timeout.connect(self._ask_checks)

    # showing

    @property
    def page(self) -> Page:
        """The page of the open step."""
        return self.page_of(self.step)

    def page_of(self, step: str) -> Page:
        """The page of a step, made the first time."""
        if step not in self.pages:
            page = step_called(step).page()(self.session)
            page.show_look(self.look)
            for grid in page.findChildren(Grid):
                grid.restyle(self.look)
            page.decorated.connect(lambda: self._decorated(page))
            page.export.connect(self.files.export)
            page.prints.connect(self.files.print_out)
            page.typing.connect(self.entry.begin)
            page.bring.connect(self.files.bring_in)
            page.acts.connect(lambda action: self.qactions[action].trigger())
            page.works.connect(self.strip.start)
            page.asks_place.connect(self.table.point)
            page.wants.connect(self._ask_page)
            self.tray.addWidget(page)
            self.pages[step] = page
        return self.pages[step]

    def _show_job(self) -> None:
        job = self._dragged_to = self.session.job
        self.table.show_job(job)
        self.tally.show_old()
        self.page.show_job(job)
        self._show_names()
        self._ask_figures(job)
        self._checks_later.start()

    def _try_figures(self, job: Job) -> None:
        """Figures of a job as a drag would make it."""
        self._dragged_to = job
        self._ask_figures(job)

    def _ask_figures(self, job: Job) -> None:
        """The tally, and right after it the page's answer, which shares much with it."""
        self._after_tally.put(self.step, self.page.question(), job)
        self.asker.ask("tally", partial(questions.figures, mark=self.session.mark), job, self._after_tally)

    @property
    def at_rest(self) -> bool:
        """Whether everything that was asked has been answered."""
        return self.asker.idle and self.slow.idle and not self._checks_later.isActive()

    def _ask_checks(self) -> None:
        """What may wait until edits pause: the clashes, every snag, the next thing to do."""
        self.slow.ask("clashes", partial(questions.clashes, mark=self.session.mark), self.session.job)
        self.slow.ask("checks", questions.findings, self.session.job)

    def _answered(self, a: Answered) -> None:
        if a.job is not self._dragged_to:
            return  # an answer to what is no longer asked
        if a.kind == "tally":
            if a.result:
                now, mark = a.result
                self.tally.show_figures(now, mark, units_of(a.job))
            self.table.release()
        elif a.kind == "clashes" and a.result:
            now, mark = a.result
            self.tally.show_figures(now, mark, units_of(a.job))
        elif a.kind == "checks" and a.result:
            self.found_snags, next_thing, far = a.result
            wrong = sum(s.severity == "wrong" for s in self.found_snags)
            self.tally.show_count(wrong, len(self.found_snags) - wrong)
            self.route.show_snags(self.found_snags, far, a.job)
            self.snags.show_snags(self.found_snags, a.job)
            self.next.show_advice(next_thing, a.job)
            self.page.show_marks(marks(self.found_snags, self.step))
        elif a.kind == self.step:
            self.page.show_answer(a.job, a.result, a.problem and a.problem.read_in(units_of(a.job)))

    def _show_chosen(self) -> None:
        self.table.show_chosen(self.session.chosen)
        self.page.show_chosen(self.session.chosen)

    def _show_names(self) -> None:
        s = self.session
        file = s.path.name if s.path else "not saved yet"
        self.setWindowTitle(f"{s.title} · {file} · Iron Cage")
        self.route.show_job(s.title, s.job.brief.builder, s.mark_name, s.history)
        self.qactions["undo"].setText(f"Undo {s.history.undo_name}".strip())
        self.qactions["redo"].setText(f"Redo {s.history.redo_name}".strip())

    def _decorated(self, page: Page) -> None:
        if page is self.page:
            self.table.show_decor(page.decor)

    def _broke(self, error: Exception) -> None:
        raise error  # a bug: the application's hook rescues the work and reports it

    # steps

    def go(self, step: str) -> None:
        """Open a step's page."""
        if step != self.step:
            self.slow.drop(self.step)
        self.step = step
        self.route.show_step(step)
        self.tray.setCurrentWidget(self.page)
        self.tray.show()
        height, share = sum(self.split.sizes()) or 600, self.settings.tray(step) or step_called(step).tray
        self.split.setSizes([round(height * (1 - share)), round(height * share)])
        job = self.session.job
        self.page.show_job(job)
        self.page.show_marks(marks(self.found_snags, step))
        self.page.show_chosen(self.session.chosen)
        self.table.show_decor(self.page.decor if self.page.result is not None else type(self.page.decor)())
        self._ask_page()

    def _ask_page(self) -> None:
        """The question of the page, as its open list has it now."""
        question = self.page.question()
        self._after_tally.put(self.step, question, self._dragged_to)  # the list that is open by now
        self.slow.ask(self.step, question, self.session.job)

    def _jump(self, step: str, where: tuple[str, ...]) -> None:
        self.go(step)
        if where:
            self.session.choose(where)
        self.table.setFocus()

    def _grant(self, wish: Wish) -> None:
        """Do what a typed line wants of the window."""
        if wish.kind == "step":
            self.go(wish.id)
        elif wish.kind == "list":
            step, _, words = wish.id.partition(":")
            self.go(step)
            self.page.open_list(words)
        elif wish.kind == "figure":
            self.tally.explain(wish.id)
        elif wish.kind == "next":
            self.next.button.click()
        elif wish.kind == "menu":
            self.route.menu.showMenu()
        else:
            self.qactions[wish.id].trigger()

    def _mend(self, snag: "Snag") -> None:
        """Go where a snag is mended: its step, what it is about, the list that tells more of it, and the line to type
        where there is one."""
        self.go(snag.step)
        self.session.choose(snag.where)  # none where it is about nothing that can be chosen
        self.table.setFocus()
        self.page.open_list(LISTS.get(snag.code, ""))
        if line := mending(snag):
            self.entry.begin(line)

    def _keep_tray(self) -> None:
        above, below = self.split.sizes()
        if below and self.tray.isVisible():
            self.settings.keep_tray(self.step, below / max(above + below, 1))

    def fold_tray(self) -> None:
        """Give the whole height to the picture, or bring the lists back."""
        self.tray.setVisible(self.tray.isHidden())
        self.table.setFocus()

    def fit_chosen(self) -> None:
        """Look at what is chosen."""
        self.table.fit_chosen()

    def show_snags(self) -> None:
        """Show the list of snags in the tray, or go back to the step."""
        if self.tray.currentWidget() is self.snags:
            self.go(self.step)
        else:
            self.tray.setCurrentWidget(self.snags)
            self.tray.show()
            self.snags.grid.list.setFocus()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        step = next((s.id for s in STEPS if event.text() == str(s.number)), None)
        text = event.text()
        if step:
            self.go(step)
        elif text and text.isalpha() and text.isprintable():
            self.entry.begin(text)
        else:
            super().keyPressEvent(event)

    # table

    def _offer(self, name: str, at: QPoint) -> None:
        """The menu of what is chosen, or of what was clicked where that is something else."""
        if name and name not in self.session.chosen:
            self.session.choose((name,))
        TableMenu(self, self.session, self.qactions, self.entry.begin).exec(at)

    def draw_tubes(self) -> None:
        """Draw tubes from place to place, or end that."""
        self.table.draw(on=self.table.drawing is None)
        self.table.setFocus()

    def view_side(self) -> None:
        """Look from the side."""
        self.table.turn_to("side")

    def view_plan(self) -> None:
        """Look from above."""
        self.table.turn_to("plan")

    def view_front(self) -> None:
        """Look from the front."""
        self.table.turn_to("front")

    def view_free(self) -> None:
        """Look from anywhere."""
        self.table.turn_to("free")

    def fit(self) -> None:
        """Fit the frame into the view."""
        self.table.fit()

    def next_list(self) -> None:
        """Open the next of the step's lists."""
        self._turn_lists(1)

    def last_list(self) -> None:
        """Open the one before."""
        self._turn_lists(-1)

    def _turn_lists(self, step: int) -> None:
        tabs = self.page.findChild(QTabWidget)
        if tabs is not None:
            seen = [n for n in range(tabs.count()) if tabs.isTabVisible(n)]
            tabs.setCurrentIndex(seen[(seen.index(tabs.currentIndex()) + step) % len(seen)])

    def show_columns(self) -> None:
        """Show all columns of the lists whole, or as many as there is room for."""
        grids = self.page.findChildren(Grid)
        whole = not any(grid.room.whole for grid in grids)
        for grid in grids:
            grid.show_whole(on=whole)

    def toggle_tags(self) -> None:
        """Show tags on all joints, or only on those chosen."""
        self.table.show_tags(on=not self.table.all_tags)

    # edits

    def undo(self) -> None:
        """Take back the last step."""
        self.session.undo()

    def redo(self) -> None:
        """Do it again."""
        self.session.redo()

    def choose_all(self) -> None:
        """Choose every joint and tube."""
        job = self.session.job
        self.session.choose((*job.joint_by_id, *job.tube_by_id))

    def delete_chosen(self) -> None:
        """Delete what is chosen: rows of the list of wheels and weights when that has the keys."""
        parts = getattr(self.page, "parts", None)
        if parts is not None and parts.list.hasFocus():
            keys = [parts.key(parts.model.rows[i.row()]) for i in parts.list.selectionModel().selectedRows()]
            self.session.press(f"delete {' '.join(keys)}")
        else:
            self.session.press("delete")

    def copy_chosen(self) -> None:
        """Put what is chosen on the clipboard: its figures as text, and the things themselves for Paste."""
        made = copied(self.session.job, self.session.chosen)
        if made is not None:
            QApplication.clipboard().setMimeData(made)
        words = f"Copied {len(self.session.chosen)} with their figures." if made else "Choose what to copy first."
        self.session.told.emit(words, made is None)

    def paste(self) -> None:
        """Put in what was copied, or carry out the lines that are on the clipboard."""
        try:
            self.session.do(pasted(QApplication.clipboard().mimeData(), self.session.chosen), "Paste")
        except Problem as problem:
            self.session.told.emit(str(self.session.named(problem)), True)

    def copy_table(self) -> None:
        """Put the table as it is seen on the clipboard, as a picture."""
        QApplication.clipboard().setPixmap(self.table.grab())
        self.session.told.emit("Copied a picture of the table.", False)

    def set_mark(self) -> None:
        """Measure differences from here."""
        self.session.set_mark()

    def find_rows(self) -> None:
        """Show only rows with words that are typed, of the list that has the keys, or else of the first one."""
        grids = [grid for grid in self.page.findChildren(Grid) if grid.isVisible()]
        here = next((grid for grid in grids if grid.isAncestorOf(self.focusWidget() or self)), None)
        if grids:
            (here or grids[0]).seek()

    def print_paper(self) -> None:
        """Offer what can be printed."""
        menu = PrintMenu(self, self.files)
        menu.exec(self.mapToGlobal(self.table.geometry().center()))

    def focus_entry(self) -> None:
        """Put the keys into the line."""
        self.entry.begin(self.entry.line.text())

    # look

    def toggle_dark(self) -> None:
        """Dark or light."""
        self.look_so(self.settings.scale, dark=not self.settings.dark)

    def larger(self) -> None:
        """Larger type."""
        self._scale(1)

    def smaller(self) -> None:
        """Smaller type."""
        self._scale(-1)

    def _scale(self, step: int) -> None:
        at = min(max(SCALES.index(self.settings.scale) + step, 0), len(SCALES) - 1)
        self.look_so(SCALES[at], dark=self.settings.dark)

    def look_so(self, scale: float, *, dark: bool) -> None:
        """Use a size of type, 1 as designed, and dark or light colours."""
        if (scale, dark) != (self.settings.scale, self.settings.dark):
            self.settings.scale, self.settings.dark = scale, dark
            self.look = DARK if dark else LIGHT
            self._apply_look()

    def _apply_type(self) -> QApplication:
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        app.setFont(text_font(TYPE_POINTS * self.settings.scale))
        return app

    def _apply_look(self) -> None:
        self._apply_type().setPalette(palette(self.look))
        self.entry.restyle(self.settings.scale)
        self.tray.setMinimumHeight(round(TRAY_PX * self.settings.scale))
        self.route.restyle(TYPE_POINTS * self.settings.scale)
        self.setStyleSheet(style(self.look))  # again for another size of type too: it keeps the sizes it has seen
        self.table.show_look(self.look)
        for page in self.pages.values():
            page.show_look(self.look)
        for grid in self.findChildren(Grid):
            grid.restyle(self.look)
        self.tally.fit()

    # bench card and help

    def show_card(self) -> None:
        """Show the open step's bench cards full screen."""
        cards = self.page.cards()
        if not cards:
            self.session.told.emit(
                f"{step_called(self.step).name} has no bench card yet: there is nothing to cut, set or read.", True
            )
            return
        from ironcage.desk.benchcard import BenchCard

        self.card = BenchCard(cards, self.page.first_card(), self.look)
        self.card.closed.connect(self._card_closed)
        self.card.showFullScreen()

    def _card_closed(self) -> None:
        self.card = None
        self.activateWindow()

    def show_pocket(self) -> None:
        """Open the quick sums."""
        if self._pocket is None:
            from ironcage.desk.pocketwindow import PocketWindow

            self._pocket = PocketWindow(self)
            self._pocket.setObjectName("steel")
        self._pocket.show_in(self.session.units, self.look)

    def show_help(self) -> None:
        """Open the help beside the work."""
        if self._help is None:
            from ironcage.desk.helppage import HelpPage

            self._help = HelpPage(self)
        self._help.show_in(self.session.units, step_called(self.step).name)
        self._help.show()
        self._help.raise_()

    # leaving

    def changeEvent(self, event: QEvent | None) -> None:
        if event is not None and event.type() == QEvent.Type.ActivationChange and not self.isActiveWindow():
            self.tally.hide_card()
        super().changeEvent(event)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event and _dropped(event):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        for path in _dropped(event) if event else ():
            self.files.take_dropped(path, self.step)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if event is None:
            return
        if not self.files.may_leave():
            event.ignore()
            return
        self.shut(discard=True)
        event.accept()

    def shut(self, *, discard: bool) -> None:
        """Stop threads and give memory back; the journal is discarded when nothing unsaved is wanted."""
        self.settings.geometry = self.saveGeometry()
        if self.card:
            self.card.close()
        self._checks_later.stop()
        self.strip.stop()
        self.asker.close()
        self.slow.close()
        self.session.close(discard=discard)
        self.table.close_drawing()


def _dropped(event: QDropEvent) -> list[Path]:
    """The files of this computer that are dragged over or dropped."""
    held = event.mimeData()
    return [Path(url.toLocalFile()) for url in held.urls() if url.isLocalFile()] if held else []
