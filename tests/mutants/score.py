"""How many small wrong changes the tests notice, by room: python -m tests.mutants.score core/verdict --sample 40.

A change is tried on the tests of its own room; of services and web on those of both. The sample is the same for the
same seed. ADZE_TEST_DATABASE_URL names a PostgreSQL server, as for any test.
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

from tests.mutants.changes import changes

ROOT = Path(__file__).parents[2]


@dataclass(frozen=True)
class Mutant:
    """A change of a module by its number, with its words, and the folders of tests that should notice it."""

    module: str
    number: int
    words: str
    room: str
    tests: tuple[str, ...]

    def survives(self) -> bool:
        """Run the tests with the change; whether all of them pass. Raises RuntimeError where they cannot run."""
        command = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:randomly", "-p", "no:cacheprovider"]
        run = subprocess.run(
            [*command, "-p", "tests.mutants.plugin", *self.tests],
            cwd=ROOT, capture_output=True, text=True, check=False, timeout=900,
            env=os.environ | {"ADZE_MUTANT": f"{self.module} {self.number}", "OPENBLAS_NUM_THREADS": "1"},
        )  # fmt: skip
        # What cannot even be imported or collected is noticed too: pytest's 1 to 4 are failures of some kind.
        if run.returncode == 5:
            raise RuntimeError(f"{self.module}: no tests in {self.tests}")
        return run.returncode == 0


def mutants(room: str) -> list[Mutant]:
    """Every change of the modules of a room such as core/verdict, services/log or web."""
    found = []
    for path in sorted((ROOT / "adze" / room).rglob("*.py")):
        module = ".".join(path.relative_to(ROOT).with_suffix("").parts)
        folders = [f"tests/{room}"] if room.startswith("core") else [f"tests/{room}", "tests/web"]
        tests = tuple(dict.fromkeys(folder for folder in folders if (ROOT / folder).exists()))
        rows = changes(ast.parse(path.read_text()))
        found += [Mutant(module, k, f"line {row.line}: {row.words}", room, tests) for k, row in enumerate(rows)]
    return found


def main() -> None:
    """Try a sample of the changes of some rooms, name the survivors, and print a row of the score for each room."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("rooms", nargs="+")
    parser.add_argument("--sample", type=int, default=40, help="changes a room")
    parser.add_argument("--seed", type=int, default=1)
    given = parser.parse_args()
    for room in given.rooms:
        every = mutants(room)
        some = random.Random(given.seed).sample(every, min(given.sample, len(every)))
        with ThreadPoolExecutor(2) as at_once:
            alive = Counter(dict(zip(some, at_once.map(Mutant.survives, some), strict=True)))
        for mutant in (mutant for mutant in some if alive[mutant]):
            print(f"survives: {mutant.module} {mutant.words}", flush=True)
        killed = len(some) - sum(alive.values())
        print(f"| {room} | {len(every)} | {len(some)} | {killed} | {killed / len(some):.0%} |", flush=True)


if __name__ == "__main__":
    main()
