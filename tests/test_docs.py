"""The docs stay true: what they show is run, what they list is there."""

from __future__ import annotations

import re
import subprocess
import sys
import tomllib
from collections import Counter
from importlib import import_module
from pathlib import Path

import pytest

from oak_ledge import VERSION
from oak_ledge.cli import app, main as cli
from oak_ledge.config import Config
from oak_ledge.core.notes.every import NOTES
from oak_ledge.core.sizes.starters import STARTERS
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.flows.bench.view_models import PlacementView
from oak_ledge.web.app import make_app
from tests.samples import there

ROOT = Path(__file__).parent.parent
README = (ROOT / "README.md").read_text()
GUIDE = (ROOT / "src/oak_ledge/web/guide.md").read_text()


def test_the_readmes_command_prints_what_the_readme_says(capsys, monkeypatch, tmp_path):
    (tmp_path / "src").symlink_to(ROOT / "src")
    monkeypatch.chdir(tmp_path)
    block = re.search(r"    \$ oak-ledge (.+)\n((?:    .+\n)+)", README)
    assert block is not None
    with pytest.raises(SystemExit) as ended:
        cli.main(block[1].split())
    assert ended.value.code == 0
    answer, shown = capsys.readouterr().out, re.sub("^    ", "", block[2], flags=re.MULTILINE)
    # the encoder may count a few bytes more or less on another processor
    assert re.sub(r"[\d.]+ kB", "", answer) == re.sub(r"[\d.]+ kB", "", shown)


def test_every_command_and_setting_is_documented():
    assert set(re.findall(r"`oak-ledge (\w[\w-]*)", README)) == {
        name for name, one in app.COMMANDS.items() if not one.hidden
    }
    settings = {f"OAK_LEDGE_{name}".upper() for name in Config.model_fields}
    assert set(re.findall(r"OAK_LEDGE_\w+", GUIDE)) == settings


def test_what_is_told_of_a_command_is_what_it_says_itself():
    for one in app.COMMANDS.values():
        import_module(f"oak_ledge.cli.commands.{one.file}")
    said = {
        there(info.callback).__name__.replace("_", "-"): str(there(info.callback).__doc__)
        for info in app.app.registered_commands
    }
    said |= {
        str(info.name): str(there(info.typer_instance).info.help)
        for info in app.app.registered_groups
    }
    assert {name: one.help for name, one in app.COMMANDS.items()} == {
        name: words.strip().partition("\n\n")[0] for name, words in said.items()
    }


def test_every_size_the_guide_writes_is_one():
    table = GUIDE.split("| written | is |")[1].split("\n\n")[0]
    written = re.findall(r"`([^`]+)`", table.replace("`enlarge`", ""))
    assert len(written) >= 15
    for text in written:
        read_size(text)


def test_every_size_a_library_begins_with_has_its_source():
    answer = (ROOT / "docs" / "sizes-and-sources.md").read_text()
    assert len(STARTERS) >= 30
    for name, _, text, *_ in STARTERS:
        assert re.search(rf"[|,] {re.escape(name)}[ ,]", answer), name
        read_size(text)
    # ISO 216: each size is the one before folded once, its ratio the square root of two
    series = [
        text.split("mm")[0].split("x")
        for name, _, text, *_ in STARTERS
        if re.match(r"A\d print", name)
    ]
    edges = [(int(width), int(height)) for width, height in series]
    assert edges == [(105, 148), (148, 210), (210, 297), (297, 420), (420, 594)]


def test_pictures_and_pages_that_are_linked_are_there():
    for page in (ROOT / "README.md", *sorted((ROOT / "docs").rglob("*.md"))):
        for link in re.findall(r"\]\(([^)#:]+)\)", page.read_text()):
            assert (page.parent / link).exists(), f"{page.name} links to {link}"
    shown = set(re.findall(r"docs/screenshots/(\w+\.png)", README))
    assert shown == {path.name for path in (ROOT / "docs/screenshots").glob("*.png")}


def test_every_button_and_key_the_guide_names_is_there():
    package = ROOT / "src/oak_ledge"
    words = [*package.glob("web/templates/**/*.html"), *package.glob("web/static/js/**/*.js")]
    words += [*package.glob("core/notes/*.py"), *package.glob("core/pixels/weight/byte_limit.py")]
    said = " ".join(" ".join(path.read_text().split()) for path in words)
    # a name's figures and plurals are put in when it is shown
    said = re.sub(
        r"\{\{(.*?)\}\}", lambda at: " ".join(re.findall(r'"([^"]*)"', at[1])) or "§", said
    )
    said = re.sub(r"\$?\{[^{}]*\}", "§", said)
    guide = GUIDE.split("## Settings")[0]
    named = set(re.findall(r"(?<!\*)\*([^*\n]+(?:\n[^*\n]+)?)\*(?!\*)", guide))
    assert len(named) >= 40
    for name in named:
        shown = re.escape(" ".join(name.split()))
        shown = (
            re.sub(r"\d+", "§", shown)
            .replace("subjects", "subject§?s?")
            .replace("zones", "zone§?s?")
        )
        assert re.search(shown, said), name
    script = (ROOT / "src/oak_ledge/web/static/js/bench/keys.js").read_text("utf-8")
    keys = " ".join(re.findall(r'keys: "([^"]+)"', script))
    pressed = set(re.findall(r"`([A-Z?.,+-]|Enter|Esc|Alt|Shift|Ctrl(?: [A-Z])?)`", GUIDE))
    assert len(pressed) >= 15
    for key in pressed:
        assert key.replace("-", "−") in keys, key


def test_every_rule_that_is_cited_stands_on_its_page():
    page = (ROOT / "docs" / "rules.md").read_text("utf-8")
    sections = set(re.findall(r"^## (\d+)\.", page, re.MULTILINE))
    cited = Counter(
        number
        for path in (ROOT / "src").rglob("*.py")
        for number in re.findall(r"rules,\s+section\s+(\d+)", path.read_text("utf-8"))
    )
    assert sum(cited.values()) >= 30
    assert set(cited) <= sections == {*"123456789", "10"}
    codes = set(re.findall(r"[a-z]+(?:-[a-z]+)+", page.split("## 8.")[1].split("## 9.")[0]))
    assert set(NOTES) - codes <= {"enlarged", "trimmed", "stretched", "flattened", "continued", "joint", "fills", "head",
                                  "sliver", "retouched", "eyes-on-third", "subject-cut",
                                  "resampled-unscaled"}  # fmt: skip


def test_the_scripts_know_the_view_by_the_fields_that_are_answered():
    script = (ROOT / "src/oak_ledge/web/static/js/bench/state/view.js").read_text("utf-8")
    assert re.findall(r"@property \{[^}]+\} (\w+)", script) == list(PlacementView.model_fields)


def test_every_decision_is_in_the_index():
    index = (ROOT / "docs/decisions/README.md").read_text("utf-8")
    written = {path.name for path in (ROOT / "docs/decisions").glob("0*.md")}
    assert set(re.findall(r"\((\d\S+\.md)\)", index)) == written


def test_every_room_and_file_the_house_names_is_there():
    answer = (ROOT / "docs" / "contributing.md").read_text().split("## The house")[1]
    package = ROOT / "src" / "oak_ledge"
    named = [
        path for path in re.findall(r"`([\w/.-]+)`", answer.split("## Tests")[0]) if "/" in path
    ]
    rows = answer.split("## Where is it?")[1].split("## Where does")[0].count("\n| ") - 1
    assert rows >= 40
    assert len(named) >= 60
    for path in named:
        assert (package / path).exists() or (package / "web" / path).exists(), path


def test_package_interface_command_and_changelog_name_one_version(workspace):
    told = tomllib.loads((ROOT / "pyproject.toml").read_text("utf-8"))["project"]["version"]
    newest = re.search(r"^## (\S+)$", (ROOT / "CHANGELOG.md").read_text("utf-8"), re.MULTILINE)
    interface = make_app(workspace).openapi()
    asked = subprocess.run(
        [sys.executable, "-m", "oak_ledge", "--version"], capture_output=True, text=True, check=True
    )
    assert newest is not None
    assert {newest[1], told, VERSION, interface["info"]["version"]} == {told}
    assert asked.stdout == f"oak-ledge {told}\n"
    assert [name for name in interface["components"]["schemas"] if "__" in name] == []


def test_marks_are_the_same_where_they_are_drawn_and_where_they_are_redrawn():
    web = ROOT / "src/oak_ledge/web"
    redrawn = (web / "static/js/bench/state/shown.js").read_text("utf-8")
    drawn = (web / "templates/_state.html").read_text("utf-8")
    shapes = re.findall(r'"(M[^"]+z)"', redrawn)
    assert len(shapes) == 5
    assert [one for one in shapes if f'd="{one}"' not in drawn] == []


def test_the_licence_of_every_package_and_of_what_is_kept_here_is_told():
    page = (ROOT / "docs/third-party.md").read_text("utf-8")
    project = tomllib.loads((ROOT / "pyproject.toml").read_text("utf-8"))["project"]
    named = {name.replace("_", "-") for name in re.findall(r"`([\w.-]+)`", page)}
    assert {re.split(r"[=;\[ ]", need)[0].lower() for need in project["dependencies"]} <= named
    assert project["license"] in (ROOT / "LICENSE").read_text("utf-8")
    for folder in ("web/static/vendor", "web/static/fonts", "core/pixels/heads/models"):
        assert f"`{folder}`" in page
        kept = ROOT / "src/oak_ledge" / folder
        assert [path for path in kept.iterdir() if "LICENSE" in path.name]
