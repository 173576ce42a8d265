"""Thousands of calls drawn from the described interface, most of things that are there; none may end in
a 500, take over two seconds, or be answered otherwise than described.

    python -m benchmarks.fuzz [calls of each operation]
"""

from __future__ import annotations

import sys
import tempfile
import time
from collections import Counter
from pathlib import Path

from hypothesis import given, seed, settings, strategies as st
from hypothesis.errors import Unsatisfiable
from schemathesis import GenerationMode, openapi
from schemathesis.core.failures import FailureGroup
from tests.web.test_described import CHECKS, DRAWN, furnished, of_a_known_thing

from oak_ledge.web.app import make_app

SLOW = 2.0  # seconds


def main(each: int) -> int:
    folder = Path(tempfile.mkdtemp(prefix="oak-ledge-fuzz-"))
    workspace = furnished(folder)
    schema = openapi.from_asgi("/api/openapi.json", make_app(workspace, ["testserver"]))
    found: list[str] = []
    answers: Counter[int] = Counter()
    longest, begun = (0.0, ""), time.monotonic()
    for operation in (one.ok() for one in schema.get_all_operations()):
        for mode in GenerationMode:

            @seed(7)
            @settings(DRAWN, max_examples=each)
            @given(operation.as_strategy(generation_mode=mode), st.data())
            def ask(case, data):
                nonlocal longest
                of_a_known_thing(case, data.draw)
                start = time.monotonic()
                answer = case.call()
                took = time.monotonic() - start
                longest = max(longest, (took, operation.label))  # noqa: B023 - asked at once
                answers[answer.status_code] += 1
                if took > SLOW:
                    found.append(f"{operation.label}: {took:.1f} s")  # noqa: B023
                try:
                    case.validate_response(answer, checks=CHECKS)
                except FailureGroup as exc:
                    found.append(f"{operation.label}: {exc.exceptions[0]}"[:600])  # noqa: B023

            try:
                ask()
            except Unsatisfiable:
                continue
    print(
        f"{sum(answers.values())} calls in {time.monotonic() - begun:.0f} s; answers {dict(answers)}"
    )
    print(f"the longest took {longest[0]:.2f} s: {longest[1]}")
    print("\n".join(dict.fromkeys(found)) or "none failed, none was slow")
    workspace.sessions.close()
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 45))
