"""Roaming: the deals of siblings of the open work, the present one and those before, and what the next one hangs on."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import dataclass, field, replace

from PySide6.QtCore import QObject, QSize, QTimer, Signal
from PySide6.QtGui import QImage

from under_lattice.explore.dealing import Terms
from under_lattice.explore.movable import WHOLE, Movables, Scope
from under_lattice.ui.look.numerals import capital
from under_lattice.ui.state.desk import Desk
from under_lattice.ui.workers.dealer import Dealer, Hung
from under_lattice.work.model import Design

REST_MS = 500  # after the work is shown and measured, with no edit since, when its relatives are dealt
TURN_MS = 250  # without a turn of the reach
WARM_MS = 400
DEALS_MOST = 100
BY_ITSELF_MOST = 60_000  # copies; a larger work is dealt from only when that is asked for
NUMBERS = itertools.count(1)


@dataclass(eq=False, repr=False)
class Deal:
    """One deal: from which design, on which terms, and what has been hung so far.

    Attributes
    ----------
    number : int
    design : Design
    terms : Terms
    now : QImage or None
        Picture of the design.
    hung : list of Hung
    whole : bool
        All are there.
    used : bool
        The person asked for it, looked at it, or took something of it; it is not thrown away when the work goes on.
    """

    number: int
    design: Design
    terms: Terms
    now: QImage | None = None
    hung: list[Hung] = field(default_factory=list)
    whole: bool = False
    used: bool = False


class Roaming(QObject):
    """Keeps the deals and asks for new ones; deals anew once the work rests and is seen."""

    changed = Signal()

    def __init__(self, desk: Desk, sizes: Callable[[], tuple[QSize, QSize]], parent: QObject) -> None:
        super().__init__(parent)
        self.desk, self.dealer = desk, Dealer(self)
        self.sizes = sizes  # of the pictures of the work as it is and of a sibling, px of the screen
        self.terms = Terms()
        self.deals: list[Deal] = []
        self.at = -1
        self._said = ""  # of the deals
        self._large = ""  # of the work as it is, when it has too many copies to be dealt from by itself
        self.awake = False
        self._rest = QTimer(self, singleShot=True, interval=REST_MS)
        self._rest.timeout.connect(self._follow)
        self._turned = QTimer(self, singleShot=True, interval=TURN_MS)
        self._turned.timeout.connect(lambda: self._deal(used=True))
        self.dealer.begun.connect(self._begun)
        self.dealer.came.connect(self._came)
        self.dealer.ended.connect(self._ended)
        self.dealer.failed.connect(self._failed)
        desk.document.changed.connect(self.dealer.drop)
        desk.found.changed.connect(self._work_shown)

    @property
    def deal(self) -> Deal | None:
        """The deal that is shown."""
        return self.deals[self.at] if 0 <= self.at < len(self.deals) else None

    @property
    def sentence(self) -> str:
        """What there is to say."""
        return self._large or self._said

    # -- what the person does --------------------------------------------------------------------
    def wake(self, awake: bool) -> None:
        """Begin to deal, or rest while nobody looks."""
        self.awake = awake
        if not awake:
            self.dealer.drop()
        elif self.desk.found.results and not self._of_now():
            self._rest.start()

    def deal_again(self) -> None:
        """Deal others from the work as it is; those that hang there can be gone back to."""
        self.use()
        last = max((one.terms.seed for one in self.deals), default=0)
        self.terms = replace(self.terms, seed=last + 1)
        self._deal(used=True)

    def earlier(self) -> None:
        """Show the deal before."""
        self._show(self.at - 1)

    def later(self) -> None:
        """Show the deal after."""
        self._show(self.at + 1)

    def reach(self, share: float) -> None:
        """Let values roam so far, 0..1; dealt anew when it rests."""
        self.terms = replace(self.terms, reach=min(max(share, 0.0), 1.0))
        self._turned.start()
        self.changed.emit()

    def scope(self, scope: Scope) -> None:
        """Let only a part of the work move."""
        self.terms = replace(self.terms, scope=scope)
        self._deal(used=True)

    def colours(self, free: bool) -> None:
        """Let colours move, or hold them."""
        self.terms = replace(self.terms, colours=free)
        self._deal(used=True)

    def use(self) -> None:
        """Take note that the deal that is shown was looked at."""
        if self.deal is not None:
            self.deal.used = True

    # -- dealing ---------------------------------------------------------------------------------
    def _of_now(self) -> bool:
        return bool(self.deals) and self.deals[-1].design is self.desk.document.design

    def _work_shown(self) -> None:
        """The work is seen and measured as it is now: soon there is time for its relatives."""
        if self.awake and not self._of_now():
            self._rest.start()
        elif self._large:
            self._large = ""
            self.changed.emit()

    def _follow(self) -> None:
        """The work rests: deal on the same terms from what it is now."""
        if not self.awake or self._of_now():
            return
        stages = [result.last.stage for result in self.desk.found.results.values() if result.last is not None]
        copies = sum(stage.n for stage in stages if stage is not None)
        if copies > BY_ITSELF_MOST:
            self._large = f"A work of {copies:,} copies is dealt from only when you press Deal again"
            self.changed.emit()
        else:
            self._deal(used=False)

    def _tell(self, sentence: str) -> None:
        self._said, self._large = capital(sentence), ""
        self.changed.emit()

    def _deal(self, used: bool) -> None:
        if not self.awake:
            return
        if not self.dealer.ready():
            self._tell("siblings hang here once the painter is made ready")
            QTimer.singleShot(WARM_MS, self, lambda: self._deal(used))
            return
        design = self.desk.document.design
        if self.terms.scope != WHOLE and not Movables(design, self.terms.scope).all:
            self.terms = replace(self.terms, scope=WHOLE)  # what it was is gone
        if self.deals and not self.deals[-1].used:
            self.deals.pop()
        self.deals = [*self.deals[-DEALS_MOST:], Deal(next(NUMBERS), design, self.terms, used=used)]
        self.at = len(self.deals) - 1
        self.dealer.ask(self.deals[-1].number, design, self.terms, *self.sizes())
        self._tell("" if Movables(design, self.terms.scope).free else "everything here is locked; unlock what may move")

    def _show(self, at: int) -> None:
        if 0 <= at < len(self.deals):
            self.at = at
            self.deals[at].used = True
            self.terms = self.deals[at].terms
            self._tell("")

    def _numbered(self, number: int) -> Deal | None:
        return next((one for one in self.deals if one.number == number), None)

    def _begun(self, number: int, picture: QImage) -> None:
        deal = self._numbered(number)
        if deal is not None:
            deal.now = picture
            self.changed.emit()

    def _came(self, number: int, hung: Hung) -> None:
        deal = self._numbered(number)
        if deal is not None:
            deal.hung.append(hung)
            self.changed.emit()

    def _ended(self, number: int) -> None:
        deal = self._numbered(number)
        if deal is None:
            return
        deal.hung.sort(key=lambda one: (one.sibling.distance, one.sibling.place))
        deal.whole = True
        if not deal.hung and not self._said:
            self._said = "Nothing that may move here changes the picture"
        self.changed.emit()

    def _failed(self, number: int, sentence: str) -> None:
        if sentence and self._numbered(number) is not None:
            self._tell(sentence)
