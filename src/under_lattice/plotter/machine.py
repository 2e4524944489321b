"""A simulated pen plotter: a small buffer of orders, moves with speed and acceleration, changes of pens, its place, its faults."""

from __future__ import annotations

import math
import re
from collections import deque
from dataclasses import dataclass, field
from typing import Literal

STEPS = 40  # in each mm
BUFFER = 1024  # bytes
SPEED, ACCELERATION = 380.0, 4000.0  # mm/s, mm/s²
LIFT, CHANGE = 0.1, 1.5  # s, to lower or lift a pen, and to change it
Fault = Literal["pen dry", "paper out", "line broken", "power lost"]
FAULTS: tuple[Fault, ...] = ("pen dry", "paper out", "line broken", "power lost")
ORDER = re.compile(rb"(IN|SP|PU|PD|OA|OS|OI)")
PLACE = re.compile(rb"\s*(-?\d{1,9}(?:\.\d*)?)\s*,\s*(-?\d{1,9}(?:\.\d*)?)\s*([,;])")
NUMBER = re.compile(rb"-?\d{1,9}(?:\.\d*)?")
PENS = 99  # that can be asked for
READY, PAPER, DRY, STARTED = 16, 32, 64, 8  # bits of what it says of itself


@dataclass
class Machine:
    """What a plotter is at a moment; `feed` gives it orders, `advance` lets time go by.

    Attributes
    ----------
    place : tuple of float
        Of the pen, in mm.
    pen : int
        In the holder; 0 is none.
    down : bool
    drawn : list of (int, list of (x, y))
        Lines by their pens, in mm, as far as they are drawn.
    """

    place: tuple[float, float] = (0.0, 0.0)
    pen: int = 0
    down: bool = False
    drawn: list[tuple[int, list[tuple[float, float]]]] = field(default_factory=list)
    faults: set[Fault] = field(default_factory=set)
    speed: float = SPEED
    acceleration: float = ACCELERATION
    _buffer: bytearray = field(default_factory=bytearray)
    _moves: deque[tuple[float, float, bool]] = field(default_factory=deque)
    _wait: float = 0.0  # s, until it goes on
    _from: tuple[float, float] = (0.0, 0.0)
    _since: float = 0.0  # s, of the move under way
    _said: bytearray = field(default_factory=bytearray)
    _started: bool = True
    _open: bool = False  # whether an order that lists places goes on

    @property
    def room(self) -> int:
        """How many bytes it takes now; none while the line is broken."""
        return 0 if "line broken" in self.faults else BUFFER - len(self._buffer)

    @property
    def busy(self) -> bool:
        """Whether there is anything left to be done."""
        return bool(self._moves or self._wait > 0 or self._buffer)

    def feed(self, data: bytes) -> int:
        """Take as many bytes as there is room for, and return how many."""
        taken = data[: max(self.room, 0)]
        self._buffer += taken
        return len(taken)

    def replies(self) -> bytes:
        """Return what it has said since it was asked last."""
        said = b"" if "line broken" in self.faults else bytes(self._said)
        self._said.clear()
        return said

    def fail(self, fault: Fault) -> None:
        """Let something go wrong, and say so if it can; power that is lost empties the buffer and lifts the pen."""
        if self._moves and self._moves[0][2]:
            self._mark()
        self.faults.add(fault)
        if fault == "power lost":
            self._buffer.clear()
            self._moves.clear()
            self._said.clear()
            self.pen, self.down, self._wait, self._since, self._started, self._open = 0, False, 0.0, 0.0, True, False
            self._from = self.place
        else:
            self._tell()

    def mend(self, fault: Fault) -> None:
        """Put it right: a fresh pen, new paper, the line whole, power back."""
        self.faults.discard(fault)
        self._tell()
        if fault == "pen dry" and self.down and self.pen:
            self.drawn.append((self.pen, [self.place]))

    def advance(self, seconds: float) -> None:
        """Let so much time go by."""
        left = seconds
        while left > 0 and not self.faults & {"paper out", "power lost"}:
            if self._wait > 0:
                used = min(self._wait, left)
                self._wait -= used
            elif self._moves:
                used = self._move(left)
            elif not self._next_order():
                return
            else:
                used = 0.0
            left -= used

    def _move(self, left: float) -> float:
        """Go on along the move under way for at most so long; returns how long."""
        x, y, down = self._moves[0]
        whole = math.hypot(x - self._from[0], y - self._from[1])
        lasts = duration(whole, self.speed, self.acceleration)
        used = min(left, max(lasts - self._since, 0.0))
        self._since += used
        share = 1.0 if self._since >= lasts else way_at(self._since, whole, self.speed, self.acceleration) / whole
        self.place = self._from[0] + (x - self._from[0]) * share, self._from[1] + (y - self._from[1]) * share
        if share >= 1.0:
            self._moves.popleft()
            self._from, self._since, self.place = (x, y), 0.0, (x, y)
            if down:
                self._mark()
        return used

    def _mark(self) -> None:
        """Draw as far as the pen is, if it has ink."""
        if self.drawn and "pen dry" not in self.faults and self.drawn[-1][1][-1] != self.place:
            self.drawn[-1][1].append(self.place)

    def _next_order(self) -> bool:
        """Do the next order of the buffer, of a long one its next place; tells whether there was one."""
        data = bytes(self._buffer)
        if self._open:
            return self._next_place(data)
        found = ORDER.search(data)
        if found is None:
            if len(data) >= BUFFER:  # what is no order is thrown away, so that it does not stand still
                self._buffer.clear()
            return False
        name = found[1].decode("ascii")
        if name in ("PU", "PD"):
            del self._buffer[: found.end(1)]
            self._put(name == "PD")
            self._open = True
            return True
        end = data.find(b";", found.end(1))
        if end < 0:
            if len(data) >= BUFFER:
                self._buffer.clear()
            return False
        del self._buffer[: end + 1]
        numbers = [float(one) for one in NUMBER.findall(data[found.end(1) : end])]
        if name == "IN":
            self.down, self._started = False, False
        elif name == "SP":
            pen = int(numbers[0]) if numbers and 0 <= numbers[0] <= PENS else 0  # one that is not there is none
            self._wait += CHANGE if pen != self.pen else 0.0
            self.pen = pen
        elif name == "OA":
            self._said += f"{round(self.place[0] * STEPS)},{round(self.place[1] * STEPS)},{int(self.down)}\r".encode()
        elif name == "OS":
            self._tell()
        elif name == "OI":
            self._said += b"SIM\r"
        return True

    def _next_place(self, data: bytes) -> bool:
        """Go to the next place of an order that lists many, however long it is."""
        found = PLACE.match(data)
        if found is None:
            end = data.find(b";")
            if end >= 0 or len(data) >= BUFFER:  # its end, or what is no place
                del self._buffer[: end + 1 if end >= 0 else len(data)]
                self._open = False
                return True
            return False
        del self._buffer[: found.end()]
        self._open = found[3] != b";"
        self._moves.append((float(found[1]) / STEPS, float(found[2]) / STEPS, self.down and bool(self.pen)))
        return True

    def _tell(self) -> None:
        """Say how it is; also unasked, when something goes wrong."""
        bits = READY + PAPER * ("paper out" in self.faults) + DRY * ("pen dry" in self.faults) + STARTED * self._started
        self._said += f"{bits}\r".encode()

    def _put(self, down: bool) -> None:
        """Lift or lower the pen."""
        if down != self.down:
            self._wait += LIFT
        if down and (not self.down or not self.drawn) and self.pen:
            self.drawn.append((self.pen, [self._from]))
        self.down = down


def duration(whole: float, speed: float, acceleration: float) -> float:
    """Return how long a straight move takes, in s: it speeds up and slows down evenly, so fast in mm/s and mm/s² at most."""
    if whole >= speed * speed / acceleration:
        return whole / speed + speed / acceleration
    return 2 * math.sqrt(whole / acceleration)


def way_at(since: float, whole: float, speed: float, acceleration: float) -> float:
    """Return how far along a move of so many mm it is after so many s."""
    lasts = duration(whole, speed, acceleration)
    if since >= lasts:
        return whole
    top = min(speed, math.sqrt(whole * acceleration))
    ramp = top / acceleration
    if since < ramp:
        return acceleration * since * since / 2
    if since <= lasts - ramp:
        return top * ramp / 2 + top * (since - ramp)
    return whole - acceleration * (lasts - since) ** 2 / 2
