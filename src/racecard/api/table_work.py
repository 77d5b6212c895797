"""Long tables, judged in a process of their own: with progress, a way to stop, and phones unhindered.

Run as `python -m racecard.api.table_work`: a line of JSON (`Asked`) and the file on standard input;
on standard output the rows read so far, a line each, and at the end the table as JSON.
"""

import contextlib
import hashlib
import os
import subprocess
import sys
import threading
from collections import OrderedDict
from dataclasses import dataclass, field, replace

from pydantic import TypeAdapter

from racecard.api.schemas.tables import TableOut, WorkOut
from racecard.core.exchange.bounds import ReadTable, judge_table
from racecard.core.model import Kind
from racecard.core.model.table_dates import DateOrder, OrderAsked
from racecard.core.model.table_rows import UnitKind, of_kind
from racecard.core.model.turnout import Turnout
from racecard.errors import Conflict, InvalidInput, NotFound
from racecard.formats.sheet import MOST_ROWS, Progress, TooManyRows, read_sheet

AT_ONCE_ROWS = 10_000
"""Rows that are judged while the page waits; more of them, in a process of their own."""
_AT_ONCE_BYTES = 1_000_000
_MOST_RUNNING = 2
_MOST_KEPT = 4


@dataclass(frozen=True, slots=True)
class Asked:
    """A table, and how it is to be read."""

    name: str
    unit: UnitKind | None = None
    control: str | None = None
    skipped: frozenset[int] = frozenset()
    id: str | None = None
    dates: DateOrder | None = None
    turnout: Turnout | None = None
    invented: bool = False
    kind: Kind | None = None


_ASKED = TypeAdapter(Asked)


def judged(
    content: bytes, asked: Asked, *, most_rows: int = MOST_ROWS, progress: Progress | None = None
) -> TableOut:
    """Read and judge a table here and now.

    Raises:
        InvalidInput: it is no table. TooManyRows: more than `most_rows`.
    """
    try:
        sheet = read_sheet(
            content, asked.skipped, most_rows=most_rows, progress=progress, dates=asked.dates
        )
    except OrderAsked as exc:
        return TableOut.asking(asked.name, asked.id, exc.detail)
    sheet = of_kind(replace(sheet, turnout=asked.turnout), asked.kind)
    table: ReadTable | None = None
    problem: str | None = None
    if not sheet.bad:
        try:
            table = judge_table(sheet, unit=asked.unit, control=asked.control)
        except InvalidInput as exc:
            problem = exc.detail
    return TableOut.from_core(
        sheet, table, problem, name=asked.name, id=asked.id, invented=asked.invented
    )


@dataclass(slots=True)
class Work:
    """One long table in its own process."""

    id: str
    asked: Asked
    process: subprocess.Popen[bytes]
    rows: int = 0
    found: TableOut | None = None
    problem: str | None = None
    follower: threading.Thread | None = None

    @property
    def is_running(self) -> bool:
        """Whether an answer is still to come."""
        return self.found is None and self.problem is None

    def begin(self, content: bytes) -> None:
        """Hand the file over and follow the process, in the background."""
        self.follower = threading.Thread(target=self._follow, args=(content,), daemon=True)
        self.follower.start()

    def stop(self) -> None:
        """End the process and clear up behind it."""
        self.process.kill()
        if self.follower:
            self.follower.join()

    def _follow(self, content: bytes) -> None:
        with self.process as process:
            assert process.stdin is not None
            assert process.stdout is not None
            with contextlib.suppress(OSError):  # stopped before it had read the file
                process.stdin.write(_ASKED.dump_json(self.asked) + b"\n" + content)
                process.stdin.close()
            for line in process.stdout:
                self._hear(line)
        if self.is_running:
            self.problem = "Reading this table was stopped: choose the file again to start over."

    def _hear(self, line: bytes) -> None:
        if line.startswith(b"{"):
            self.found = TableOut.model_validate_json(line)
        elif line.startswith(b"!"):
            self.problem = line[1:].decode().strip()
        elif line.endswith(b"\n"):  # else it was killed in the middle of a number
            self.rows = int(line)

    def shown(self) -> TableOut:
        """The table, or how far it is."""
        if self.problem is not None:
            raise InvalidInput(self.problem)
        if self.found is not None:
            return self.found
        return TableOut.at_work(self.asked.name, self.asked.id, WorkOut(id=self.id, rows=self.rows))


@dataclass(slots=True)
class LongTables:
    """The long tables of this server; the last few answers are kept, so that a reload is quick."""

    by_id: "OrderedDict[str, Work]" = field(default_factory=OrderedDict)
    lock: threading.Lock = field(default_factory=threading.Lock)

    def table(self, content: bytes, asked: Asked) -> TableOut:
        """Judge it here when it is short, else begin (or find) its work.

        Raises:
            InvalidInput: it is no table. Conflict: two others are being read.
        """
        if len(content) <= _AT_ONCE_BYTES:
            with contextlib.suppress(TooManyRows):
                return judged(content, asked, most_rows=AT_ONCE_ROWS)
        found = self._work(content, asked).shown()
        return found.model_copy(update={"name": asked.name, "id": asked.id})

    def get(self, work_id: str) -> Work:
        """One of them; NotFound once the server forgot it."""
        with self.lock:
            work = self.by_id.get(work_id)
        if work is None:
            raise NotFound("That table is no longer being read: choose the file again.")
        return work

    def stop(self, work_id: str) -> None:
        """End its process; what it had read is dropped."""
        work = self.get(work_id)
        with self.lock:
            self.by_id.pop(work_id, None)
        work.stop()

    def _work(self, content: bytes, asked: Asked) -> Work:
        read_as = f"{asked.unit} {asked.control!r} {sorted(asked.skipped)} {asked.dates}"
        id = hashlib.sha256(read_as.encode() + content).hexdigest()[:32]
        with self.lock:
            known = self.by_id.get(id)
            if known is not None and known.problem is None:
                self.by_id.move_to_end(id)
                return known
            if sum(w.is_running for w in self.by_id.values()) >= _MOST_RUNNING:
                raise Conflict("Two long tables are being read already: stop one, or wait for it.")
            while len(self.by_id) >= _MOST_KEPT:
                del self.by_id[next(k for k, w in self.by_id.items() if not w.is_running)]
            work = self.by_id[id] = Work(id, asked, _process())
            work.begin(content)
        return work


def _process() -> subprocess.Popen[bytes]:
    command = [sys.executable, "-m", "racecard.api.table_work"]
    return subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE)


def _print_progress(rows: int) -> None:
    print(rows, flush=True)


def main() -> None:
    """The process itself: nicer than the server, so that a tap still goes first."""
    os.nice(10)
    asked = _ASKED.validate_json(sys.stdin.buffer.readline())
    try:
        found = judged(sys.stdin.buffer.read(), asked, progress=_print_progress)
    except InvalidInput as exc:
        print(f"!{' '.join(exc.detail.split())}", flush=True)
        return
    print(found.model_dump_json(), flush=True)


if __name__ == "__main__":
    main()
