"""A command loads what it needs, and what is loaded later works as if it had been there."""

from __future__ import annotations

import json
import subprocess
import sys

import pytest

from oak_ledge.cli.main import main
from tests import samples

CALL = """
import sys
from oak_ledge.cli.main import main
try:
    main(sys.argv[1:])
finally:
    loaded = {{name for name, module in sys.modules.items() if type(module).__name__ != "_Later"}}
    print(*sorted(loaded & {{*{packages!r}}}), file=sys.stderr)
"""
HEAVY = ("PIL", "cv2", "email", "fastapi", "numpy._core", "pydantic", "pyvips", "sqlalchemy")


@pytest.fixture
def photo(tmp_path):
    return samples.photo(tmp_path / "quay.jpg", 900, 600)


def started(*arguments: object) -> tuple[str, str]:
    """Call the command in a process of its own: what it printed, and which packages it loaded."""
    call = [sys.executable, "-c", CALL.format(packages=HEAVY), *map(str, arguments)]
    ended = subprocess.run(call, capture_output=True, text=True, check=True)
    return ended.stdout, ended.stderr.strip()


@pytest.mark.parametrize(
    ("said", "loaded"),
    [
        ("--help", ""),
        ("make --help", "PIL pydantic pyvips"),  # numpy: while a photo is read
        ("tally {photo} --size 3x2in@100", "PIL pydantic pyvips"),
        ("tally {photo} --size 3x2in@100 --angle 4", "PIL numpy._core pydantic pyvips"),
        (
            "make {photo} --size 3x2in@100 --out {folder}",
            "PIL numpy._core pydantic pyvips",
        ),
    ],
)
def test_a_command_loads_what_it_needs_and_no_more(tmp_path, photo, said, loaded):
    words = said.format(photo=photo, folder=tmp_path / "out").split()
    assert started(*words)[1] == loaded


@pytest.mark.parametrize(
    "how", [(), ("--angle", "-7.5"), ("--corners", "10,20,880,15,860,560,5,590")], ids=str
)
def test_what_is_loaded_later_answers_the_same(capsys, photo, how):
    words = ["tally", str(photo), "--size", "3x2in@100", *how, "--json"]
    with pytest.raises(SystemExit):
        main(words)
    assert json.loads(started(*words)[0]) == json.loads(capsys.readouterr().out)
