"""How many small wrong changes the tests notice, by room: python -m tests.mutants.score core/verdict --sample 40.

A change is tried on the tests that reach its line, those of its own room first: coverage says which (once, kept in
`.reach`, made anew by --fresh). The sample is the same for the same seed. ADZE_TEST_DATABASE_URL names a PostgreSQL
server, as for any test.
"""

import argparse
import ast
import os
import random
import subprocess
import sys
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from tempfile import TemporaryDirectory

from coverage import CoverageData

from tests.mutants.changes import changes

ROOT = Path(__file__).parents[2]
_REACH = ROOT / ".reach"
_MOST_TESTS = 120  # functions; what so many miss, the rest seldom notices
_LONGEST_S = 600.0  # a change that makes the tests hang is noticed
_PYTEST = (sys.executable, "-m", "pytest", "-q", "-p", "no:randomly", "-p", "no:cacheprovider", "-p", "no:schemathesis")


@dataclass(frozen=True)
class Mutant:
    """A change of a module by its number, with its words, and the tests that should notice it."""

    module: str
    number: int
    words: str
    tests: tuple[str, ...]

    def survives(self) -> bool:
        """Run the tests with the change; whether all of them pass. One that no test reaches survives."""
        if not self.tests:
            return True
        own = {"ADZE_MUTANT": f"{self.module} {self.number}", "OPENBLAS_NUM_THREADS": "1"}
        with TemporaryDirectory() as compiled:
            # A compiled loop is kept by its file: the changed one would be taken for the right one, and the other way.
            if "njit" in (ROOT / (self.module.replace(".", "/") + ".py")).read_text():
                own["NUMBA_CACHE_DIR"] = compiled
            return self._passes(own)

    def _passes(self, own: dict[str, str]) -> bool:
        try:
            # What cannot even be imported or collected is noticed too: every exit code but 0 is a failure of some kind.
            command = [*_PYTEST, "-x", "-p", "tests.mutants.plugin", *self.tests]
            run = subprocess.run(
                command, cwd=ROOT, capture_output=True, check=False, timeout=_LONGEST_S, env=os.environ | own
            )
        except subprocess.TimeoutExpired:
            return False
        return run.returncode == 0


def reach(*, fresh: bool) -> CoverageData:
    """Which test functions reach which lines, from one run of the tests under coverage."""
    if fresh or not _REACH.exists():
        _REACH.unlink(missing_ok=True)
        config = ROOT / "tests" / "mutants" / "coverage.ini"
        tests = [f"tests/{room}" for room in ("core", "formats", "services")]
        command = [sys.executable, "-m", "coverage", "run", f"--rcfile={config}", f"--data-file={_REACH}"]
        # Limits of time do not hold under coverage: 1 is "some failed".
        if subprocess.run([*command, *_PYTEST[1:], *tests], cwd=ROOT, check=False).returncode > 1:
            raise RuntimeError("the tests could not be run")
    data = CoverageData(str(_REACH))
    data.read()
    return data


def mutants(room: str, reached: CoverageData) -> list[Mutant]:
    """Every change of the modules of a room such as core/verdict or services/log."""
    found = []
    for path in sorted((ROOT / "adze" / room).rglob("*.py")):
        module = ".".join(path.relative_to(ROOT).with_suffix("").parts)
        tree, contexts = ast.parse(path.read_text()), reached.contexts_by_lineno(str(path))
        for number, row in enumerate(changes(tree)):
            tests = {test for line in _lines(tree, row.line) for test in contexts.get(line, ()) if test}
            own = f"tests.{room.replace('/', '.')}."
            ordered = sorted(tests, key=lambda test: (not test.startswith(own), test))[:_MOST_TESTS]
            found.append(Mutant(module, number, f"line {row.line}: {row.words}", tuple(map(_node_id, ordered))))
    return found


def _lines(tree: ast.Module, line: int) -> range:
    """The lines whose tests should notice a change: those of its function, or all where it stands at the top."""
    around = [
        range(node.lineno, (node.end_lineno or line) + 1)
        for node in ast.walk(tree)
        if isinstance(node, ast.FunctionDef) and node.lineno <= line <= (node.end_lineno or line)
    ]
    return min(around, key=len, default=range(100_000))


def _node_id(context: str) -> str:
    """The address of a test function by its dotted name: tests.core.log.test_due.test_x."""
    module, function = context.rsplit(".", 1)
    return f"{module.replace('.', '/')}.py::{function}"


def main() -> None:
    """Try a sample of the changes of some rooms, name the survivors, and print a row of the score for each room."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("rooms", nargs="+")
    parser.add_argument("--sample", type=int, default=40, help="changes a room")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--at-once", type=int, default=2, help="changes tried side by side")
    parser.add_argument("--fresh", action="store_true", help="ask anew which tests reach which lines")
    given = parser.parse_args()
    reached = reach(fresh=given.fresh)
    for room in given.rooms:
        every = mutants(room, reached)
        some = random.Random(given.seed).sample(every, min(given.sample, len(every)))
        with ThreadPoolExecutor(given.at_once) as at_once:
            alive = Counter(dict(zip(some, at_once.map(Mutant.survives, some), strict=True)))
        for mutant in (mutant for mutant in some if alive[mutant]):
            print(f"survives: {mutant.module} {mutant.words}", flush=True)
        killed = len(some) - sum(alive.values())
        print(f"| {room} | {len(every)} | {len(some)} | {killed} | {killed / len(some):.0%} |", flush=True)


if __name__ == "__main__":
    main()
