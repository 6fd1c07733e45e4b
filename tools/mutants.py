"""Change the core a little, one change at a time, and see whether its tests notice.

`python tools/mutants.py` tries a fixed sample of every module of the core that computes, and ends with 1
where less than nine of ten are noticed in any of them; `python tools/mutants.py WORD...` those of the modules
whose paths hold one of the words. What nobody could notice, since the program does the same with it, stands in
tools/mutants.toml with the reason, and is not counted.
"""

from __future__ import annotations

import hashlib
import os
import re
import shutil
import subprocess
import sys
import tempfile
import tomllib
from collections import Counter, defaultdict
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor, as_completed
from dataclasses import dataclass
from multiprocessing import current_process
from pathlib import Path

from cosmic_ray.ast import ast_nodes, get_ast_from_path
from cosmic_ray.ast.ast_query import ASTQuery
from cosmic_ray.mutating import mutate_and_test
from cosmic_ray.plugins import get_operator
from cosmic_ray.work_item import MutationSpec, TestOutcome

HOUSE = Path(__file__).resolve().parent.parent
CORE = HOUSE / "cross_staff" / "core"
LISTED = tomllib.loads((HOUSE / "tools" / "mutants.toml").read_text())
A_MODULE = 12
WANTED = 0.9
WORKERS = 2
LONGEST_S = 300.0
_REPLACED = "core/ReplaceBinaryOperator_{}_{}".format, "core/ReplaceComparisonOperator_{}_{}".format
ARITHMETIC = tuple(
    _REPLACED[0](*pair)
    for pair in (
        *(("Add", "Sub"), ("Sub", "Add"), ("Mul", "Div"), ("Div", "Mul")),
        *(("Pow", "Mul"), ("FloorDiv", "Div"), ("Mod", "Mul")),
    )
)
REVERSED = tuple(
    _REPLACED[1](*pair)
    for pair in (
        *(("Lt", "Gt"), ("LtE", "Gt"), ("Gt", "Lt"), ("GtE", "Lt")),
        *(("Eq", "NotEq"), ("NotEq", "Eq"), ("Is", "IsNot"), ("IsNot", "Is")),
    )
)
ORDERED = REVERSED[:4]
# where a count is compared with a number, the bound itself; between lengths it is met by nobody
BOUNDS = tuple(_REPLACED[1](*pair) for pair in (("Lt", "LtE"), ("LtE", "Lt"), ("Gt", "GtE"), ("GtE", "Gt")))
OTHERS = tuple(f"core/{name}" for name in (
    "NumberReplacer", "AddNot", "ReplaceAndWithOr", "ReplaceOrWithAnd", "ReplaceTrueWithFalse", "ReplaceFalseWithTrue",
    "ReplaceUnaryOperator_USub_UAdd", "ReplaceUnaryOperator_Delete_Not", "ZeroIterationForLoop",
))  # fmt: skip


@dataclass(frozen=True)
class Mutant:
    """One change: where, which, and the line that it changes."""

    module: str
    operator: str
    occurrence: int
    within: str
    line: str
    number: int
    nth: int
    start: tuple[int, int]
    end: tuple[int, int]

    @property
    def key(self) -> str:
        """What names it as long as its line stays, wherever it moves."""
        return f"{self.module}:{self.within}:{self.operator.removeprefix('core/')}:{self.nth}:{self.line}"


def every(path: Path) -> Iterator[Mutant]:
    """All changes to a module, but to what only mypy and the reader see."""
    module = str(path.relative_to(HOUSE))
    lines = path.read_text().splitlines()
    tree = get_ast_from_path(path)
    for name in (*ARITHMETIC, *REVERSED, *BOUNDS, *OTHERS):
        operator = get_operator(name)()
        on_line: Counter[int] = Counter()
        places = ((node, *place) for node in ast_nodes(tree) for place in operator.mutation_positions(node))
        for occurrence, (node, start, end) in enumerate(places):
            line = lines[start[0] - 1].strip()
            nth = on_line[start[0]]
            on_line[start[0]] += 1
            if name in BOUNDS and not re.search(r"[<>]=? -?\d+\b(?!\.)", line):
                continue
            if re.match(r"from |import |@|class |def |\"\"\"", line) or "TYPE_CHECKING" in line:
                continue
            yield Mutant(
                module, name, occurrence, ASTQuery(node).get_definition_name() or "", line, start[0], nth, start, end
            )


def drawn(path: Path) -> list[Mutant]:
    """The sample of a module: the same as long as its lines stay; empty where the module does not compute."""
    mutants = list(every(path))
    if (
        not any(each.operator in (*ARITHMETIC, *ORDERED) for each in mutants)
        or str(path.relative_to(HOUSE)) in LISTED["data"]
    ):
        return []
    kept = [each for each in mutants if each.key not in LISTED["same"]]
    return sorted(kept, key=lambda each: hashlib.sha256(each.key.encode()).digest())[:A_MODULE]


def tests_of(module: str) -> list[str]:
    """The tests of a module: its own first, its room's, and all of the core that import it; what LISTED adds."""
    path = Path(module)
    room, dotted = path.parent.name, module.removesuffix(".py").replace("/", ".")
    imports = re.compile(
        rf"from {re.escape(dotted)} import|from {re.escape(dotted.rpartition('.')[0])} import .*\b{path.stem}\b"
    )
    files = [
        file
        for file in Path("tests", "core").rglob("test_*.py")  # of the copy, not of what is written meanwhile
        if (file.parent.name == room != "core") or imports.search(file.read_text())
    ]
    long = {file: "takes_long" in file.read_text() for file in files}
    files.sort(key=lambda f: (long[f], f.stem != f"test_{path.stem}", f.parent.name != room, f.stat().st_size))
    return [
        *(".".join(file.with_suffix("").parts) for file in files),
        *LISTED["tests"].get(module, ()),
    ]


def copy() -> None:
    """A copy of the house for this process, so that two changes never meet."""
    folder = Path(os.environ["MUTANTS"]) / current_process().name
    for part in ("cross_staff", "tests", "tools", "docs", "bench"):
        shutil.copytree(HOUSE / part, folder / part, ignore=shutil.ignore_patterns("__pycache__"))
    shutil.copy(HOUSE / "pyproject.toml", folder)
    os.chdir(folder)
    os.environ["PYTHONPATH"] = str(folder)
    for name in ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS"):
        os.environ[name] = "1"


def sound(modules: list[str]) -> str:
    """What the tests of these modules say of the core as it is; empty where they pass."""
    every = sorted({test for module in modules for test in tests_of(module)})
    done = subprocess.run([sys.executable, "-m", "unittest", *every], capture_output=True, text=True)
    return done.stderr if done.returncode else ""


def tried(mutant: Mutant) -> tuple[bool, str]:
    """Whether the tests notice a change, and the change itself."""
    spec = MutationSpec(Path(mutant.module), mutant.operator, mutant.occurrence, mutant.start, mutant.end)
    if not (tests := tests_of(mutant.module)):  # unittest would look for some by itself
        return False, "no test of the core imports this module"
    command = " ".join([sys.executable, "-m", "unittest", "-f", *tests])
    result = mutate_and_test([spec], command, LONGEST_S)
    if result.test_outcome == TestOutcome.INCOMPETENT or result.diff is None:
        raise RuntimeError(f"{mutant.key}: {result.output}")
    changed = [line for line in result.diff.splitlines() if re.match(r"[+-](?![+-])", line)]
    return result.test_outcome == TestOutcome.KILLED, "\n".join(changed)


def main() -> int:
    words = sys.argv[1:]
    paths = [path for path in sorted(CORE.rglob("*.py")) if not words or any(word in str(path) for word in words)]
    mutants = [each for path in paths for each in drawn(path)]
    killed: dict[str, list[bool]] = defaultdict(list)
    with tempfile.TemporaryDirectory(prefix="cross-staff-mutants-") as folder:
        os.environ["MUTANTS"] = folder
        with ProcessPoolExecutor(WORKERS, initializer=copy) as pool:
            if wrong := pool.submit(sound, sorted({each.module for each in mutants})).result():
                print(wrong, "the tests fail as they are: nothing can be said of changes", sep="\n")
                return 2
            waiting = {pool.submit(tried, each): each for each in mutants}
            for each in as_completed(waiting):
                mutant, (noticed, change) = waiting[each], each.result()
                killed[mutant.module].append(noticed)
                if not noticed:
                    print(
                        f"survived: {mutant.module}:{mutant.number} in {mutant.within}\n{change}\n  {mutant.key}",
                        flush=True,
                    )
    short = [module for module, those in killed.items() if sum(those) < WANTED * len(those)]
    for module, those in sorted(killed.items()):
        print(f"{sum(those):3d} of {len(those):2d}  {module}{'  SHORT' if module in short else ''}")
    noticed, same = sum(map(sum, killed.values())), len(LISTED["same"])
    print(f"{noticed} of {len(mutants)} noticed; {same} that change nothing are listed and not counted")
    return 1 if short else 0


if __name__ == "__main__":
    sys.exit(main())
