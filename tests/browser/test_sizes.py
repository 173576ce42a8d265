"""The library page in a real browser: by hand and by keys."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from oak_ledge.flows.library import sizes
from oak_ledge.flows.library.views import SizeBody, SizeChange
from tests import samples
from tests.browser.steps import click, find, text, wait

pytestmark = pytest.mark.browser


@pytest.fixture
def library(browser, address, workspace):
    """Open the page over the starter sizes and one more; give that one's id."""
    kept = sizes.add(workspace, SizeBody(text="8x10in@300", name="Wall print", group="print"))
    browser.get(f"{address}/sizes")
    wait(browser, lambda: rows(browser))
    return kept.id


def rows(browser):
    """The names of the rows that can be seen."""
    script = """return [...document.querySelectorAll(".size-row b")]
      .filter(name => name.checkVisibility()).map(name => name.textContent)"""
    return browser.execute_script(script)


def press(browser, words):
    """Press the button with these words, once it can be seen."""
    shown = f"//button[normalize-space()='{words}']"
    wait(browser, lambda: browser.find_element(By.XPATH, shown).is_displayed())
    click(browser, shown)


def open_row(browser, size_id):
    click(browser, f'[data-id="{size_id}"]')
    wait(browser, lambda: find(browser, "input[name=name]").get_attribute("value"))


def test_a_size_is_written_read_back_and_stands_on_the_wall(browser, library):
    entry = find(browser, "#entry")
    entry.send_keys("24x36inn@200")
    wait(browser, lambda: "“inn@200” is not understood" in text(browser, ".entry .reads"))
    assert not find(browser, ".entry .button").is_enabled()
    entry.send_keys(Keys.CONTROL, "a")
    entry.send_keys("24x36in@200")
    wait(
        browser,
        lambda: text(browser, ".entry .reads").startswith("24 × 36 in at 200 ppi: 4800 × 7200"),
    )
    entry.send_keys(Keys.ENTER)
    wait(browser, lambda: "24 × 36 in" in rows(browser))
    wait(browser, lambda: text(browser, ".chosen-name") == "24 × 36 in")
    seen = "const f = document.querySelector('.editing').getBoundingClientRect(); return f.height > 0 && f.bottom <= innerHeight + 1"
    wait(browser, lambda: browser.execute_script(seen))  # it is scrolled to, and opened
    outline = find(browser, ".outline.is-chosen")
    ratio = float(outline.get_attribute("width")) / float(outline.get_attribute("height"))
    assert ratio == pytest.approx(24 / 36)
    entry = find(browser, "#entry")
    entry.send_keys(Keys.CONTROL, "a")
    entry.send_keys("8x10in@200 outline ellipse")
    wait(browser, lambda: "cut to an ellipse" in text(browser, ".entry .reads"))
    entry.send_keys(Keys.ENTER)
    wait(browser, lambda: text(browser, ".chosen-name") == "8 × 10 in ellipse")
    drawn = find(browser, ".outline.is-chosen").rect
    assert drawn["width"] / drawn["height"] == pytest.approx(8 / 10, rel=0.05)


def parts(browser, css):
    """The marked parts below an element, as (kind, words, where they stand)."""
    script = """return [...document.querySelectorAll(arguments[0] + " .part")]
      .map(p => [p.className.replace("part is-", ""), p.textContent, p.getBoundingClientRect().x])"""
    return [tuple(found) for found in browser.execute_script(script, css)]


def test_each_part_of_the_entry_is_underlined_like_its_part_of_the_sentence(browser, library):
    entry = find(browser, "#entry")
    entry.send_keys("400x100px@72  dot 1:2 extend")
    wait(browser, lambda: len(parts(browser, "#reads")) == 5)  # the turn is said, too
    marks = [part[:2] for part in parts(browser, ".entry .marks")]
    assert marks == [
        ("shape", "400x100px"),
        ("resolution", "@72"),
        ("dot", "dot 1:2"),
        ("differ", "extend"),
    ]
    said = {kind: words for kind, words, _ in parts(browser, "#reads")}
    assert said["resolution"] == " at 72 ppi"
    assert said["differ"] == "extended with white"
    # a mark lies right under its text: as wide as the browser itself measures it in the field
    script = """const field = document.getElementById("entry"), style = getComputedStyle(field);
      const pen = document.createElement("canvas").getContext("2d");
      pen.font = `${style.fontWeight} ${style.fontSize} ${style.fontFamily}`;
      return field.getBoundingClientRect().x + parseFloat(style.borderLeftWidth)
        + parseFloat(style.paddingLeft) + pen.measureText("400x100px@72  dot 1:2 ").width"""
    last = parts(browser, ".entry .marks")[-1]
    assert last[2] == pytest.approx(browser.execute_script(script), abs=1.5)
    entry.send_keys("s")
    wait(browser, lambda: parts(browser, ".entry .marks")[-1][:2] == ("wrong", "extends"))
    assert "“extends” isn't understood here" in text(browser, "#reads")


def test_a_frame_is_given_to_a_size_and_drawn_with_what_will_be_seen(browser, library, workspace):
    open_row(browser, library)
    click(browser, ".edit-frame summary")
    find(browser, "input[name=lip]").send_keys("5in")
    wait(browser, lambda: "leaves nothing of the print" in text(browser, ".editing .reads"))
    lip = find(browser, "input[name=lip]")
    lip.send_keys(Keys.CONTROL, "a")
    lip.send_keys("1/4in")
    wait(browser, lambda: "7.5 × 9.5 in seen inside the frame" in text(browser, ".editing .reads"))
    Select(find(browser, "select[name=differ]")).select_by_value("extend")
    written = find(browser, "input[name=text]")
    wait(browser, lambda: written.get_attribute("value") == "8x10in@300 extend")
    find(browser, "input[name=most]").send_keys("4 MB")
    press(browser, "Save")
    wait(browser, lambda: "Kept Wall print." in text(browser, ".said"))
    size = sizes.view(workspace, library).size
    assert (size.differ, size.file.at_most, size.frame is not None) == ("extend", 4_000_000, True)
    wait(browser, lambda: browser.find_elements(By.CSS_SELECTOR, ".outline-seen"))
    seen, printed = find(browser, ".outline-seen"), find(browser, ".outline.is-chosen")
    ratio = float(seen.get_attribute("width")) / float(printed.get_attribute("width"))
    assert ratio == pytest.approx(7.5 / 8)


def test_the_receivers_profile_file_is_taken_into_a_size(browser, library, workspace, tmp_path):
    (tmp_path / "lustre.icc").write_bytes(samples.p3())
    open_row(browser, library)
    Select(find(browser, "select[name=profile]")).select_by_value("receiver")
    wait(browser, lambda: "profile is missing" in text(browser, ".editing .reads"))
    find(browser, "input[name=icc]").send_keys(str(tmp_path / "lustre.icc"))
    wait(browser, lambda: "in lustre" in text(browser, ".editing .reads"))
    press(browser, "Save")
    wait(browser, lambda: "Kept Wall print." in text(browser, ".said"))
    icc = sizes.view(workspace, library).size.file.icc
    assert icc is not None
    assert (icc.name, icc.icc) == ("lustre", samples.p3())


def test_finding_filters_while_typing(browser, library):
    field = find(browser, "input[type=search]")
    field.send_keys("a4 pr")
    wait(browser, lambda: rows(browser) == ["A4 print"])
    field.send_keys("zzz")
    wait(browser, lambda: rows(browser) == [])
    assert "Nothing is called that" in text(browser, ".library-list")


def test_a_size_is_changed_in_place_by_keys_alone(browser, library, workspace):
    ActionChains(browser).send_keys(Keys.TAB).perform()
    find(browser, f'[data-id="{library}"]').send_keys(Keys.ENTER)
    wait(browser, lambda: find(browser, "input[name=text]").get_attribute("value") == "8x10in@300")
    field = find(browser, "input[name=text]")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("8x12in@240")
    wait(browser, lambda: "1920 × 2880 px" in text(browser, ".editing .reads"))
    field.send_keys(Keys.ENTER)
    wait(browser, lambda: "Kept Wall print." in text(browser, ".said"))
    assert sizes.view(workspace, library).text == "8x12in@240"


def test_the_second_of_two_people_is_told(browser, library, workspace):
    open_row(browser, library)
    sizes.change(workspace, library, SizeChange(version=1, name="Hall print"))
    press(browser, "Save")
    wait(
        browser,
        lambda: "“Hall print” was changed meanwhile" in text(browser, ".editing .trouble-line"),
    )
    assert sizes.view(workspace, library).name == "Hall print"


def test_deleting_asks_and_can_be_taken_back(browser, library):
    open_row(browser, library)
    press(browser, "Delete")
    wait(browser, lambda: "No job took it." in text(browser, ".sure"))
    click(browser, ".sure .way")
    press(browser, "Delete")
    press(browser, "Delete it")
    wait(browser, lambda: "Wall print" not in rows(browser))
    press(browser, "Bring it back")
    wait(browser, lambda: "Wall print" in rows(browser))
    press(browser, "Delete")
    press(browser, "Delete it")
    wait(browser, lambda: "Deleted in the last 30 days: 1" in text(browser, ".deleted"))
    browser.refresh()  # also later, from the list
    click(browser, ".deleted summary")
    click(browser, ".deleted [data-back]")
    wait(browser, lambda: "Wall print" in rows(browser))


def test_a_twin_is_one_step(browser, library):
    open_row(browser, library)
    press(browser, "Copy with sides swapped")
    wait(browser, lambda: "Wall print, twin" in rows(browser))
    wait(browser, lambda: find(browser, "input[name=text]").get_attribute("value") == "10x8in@300")


def test_a_library_is_looked_at_before_it_is_kept(browser, library, tmp_path):
    path = tmp_path / "theirs.csv"
    path.write_text("name,size\nStrip,3:1\nWall print,9x9in@300\n")
    find(browser, "#library-file").send_keys(str(path))
    answer = "theirs.csv holds 1 new; 0 here already; 1 under new names: Wall print 2"
    wait(browser, lambda: answer in text(browser, ".taking"))
    assert "Strip" not in rows(browser)
    press(browser, "Import them")
    wait(browser, lambda: {"Strip", "Wall print 2"} <= set(rows(browser)))
    told = "1 size imported: Strip; 1 under new names: Wall print 2."
    assert told in text(browser, ".library-tools .said")


@pytest.mark.refused
def test_an_outline_is_taken_from_its_file_and_what_is_none_is_said_in_the_form(
    browser, library, tmp_path
):
    open_row(browser, library)
    chosen = find(browser, "input[name=svg]")
    none = tmp_path / "none.svg"
    none.write_text("<svg xmlns='http://www.w3.org/2000/svg'><rect width='4'/></svg>")
    chosen.send_keys(str(none))
    said = find(browser, ".editing .trouble-line")
    wait(browser, lambda: said.text)
    in_sight = "const b = arguments[0].getBoundingClientRect(); return b.top >= 0 && b.bottom <= innerHeight"
    wait(browser, lambda: browser.execute_script(in_sight, said))
    heart = tmp_path / "heart.svg"
    heart.write_text(
        "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 10 10'><path d='M0 0L10 0L5 10z'/></svg>"
    )
    chosen.send_keys(str(heart))
    line = find(browser, "input[name=text]")
    wait(browser, lambda: "outline path" in line.get_attribute("value"))
    assert said.text == ""
    press(browser, "Save")
    wait(browser, lambda: text(browser, ".library-tools .said").startswith("Kept"))
