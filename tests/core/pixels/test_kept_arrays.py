"""Arrays that were kept, or came from elsewhere: judged by their headers, before any is taken into memory."""

from __future__ import annotations

import io
import pickle
import zipfile

import numpy as np
import pytest
from numpy.lib import format as npy
from typing_extensions import override

from oak_ledge.core.pixels.kept_arrays import are_look, are_patches, are_solved, is_sound_file

PHOTO = np.zeros((40, 60, 3), np.uint8)


def file_of(compression=zipfile.ZIP_STORED, **arrays):
    """A file of arrays; one given as bytes is written as it is."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", compression) as held:
        for name, array in arrays.items():
            data = io.BytesIO()
            if isinstance(array, bytes):
                data.write(array)
            else:
                npy.write_array(data, np.asarray(array), allow_pickle=True)
            held.writestr(f"{name}.npy", data.getvalue())
    out.seek(0)
    return out


def header(shape, kind="|u1"):
    out = io.BytesIO()
    npy.write_array_header_1_0(out, {"descr": kind, "fortran_order": False, "shape": shape})
    return out.getvalue()


class Burst:
    @override
    def __reduce__(self):
        return (pytest.fail, ("it was executed",))


PATCH = {"at0": np.array((5, 6)), "pixels0": np.zeros((4, 5, 3), np.uint8)}
WRONG = {
    "no archive": io.BytesIO(b"words"),
    "a plain array": io.BytesIO(header((3,)) + b"abc"),
    "nothing": file_of(),
    "a name that nobody knows": file_of(**PATCH, other=np.zeros(3)),
    "a kind of values it can't have": file_of(at0=np.array((5.0, 6.0))),
    "too many axes": file_of(at0=np.zeros((1, 2), np.int64)),
    "one that is executed": file_of(at0=np.array([Burst()], object)),
    "pickled and called otherwise": file_of(at0=pickle.dumps(Burst())),
    "more than it holds": file_of(pixels0=header((100_000, 100_000, 3)) + b"x"),
    "less than it holds": file_of(pixels0=header((1, 1, 3)) + b"x" * 9000),
    "a bomb": file_of(zipfile.ZIP_DEFLATED, pixels0=np.zeros((4000, 4000, 3), np.uint8)),
    "cut short": io.BytesIO(file_of(**PATCH).getvalue()[:-30]),
}


@pytest.mark.parametrize("name", WRONG)
def test_a_file_that_is_not_what_is_kept_is_refused_by_its_headers(name):
    assert not is_sound_file(WRONG[name])


def test_what_is_kept_is_taken():
    assert is_sound_file(
        file_of(**PATCH, figures=np.zeros(2), thumb=np.zeros((240, 240, 3), np.float32))
    )


@pytest.mark.parametrize(
    ("changed", "sound"),
    [
        ({}, True),
        ({"at0": np.array((56, 6))}, False),  # beyond the photo
        ({"at0": np.array((-1, 6))}, False),
        ({"at0": np.array((5, 6, 7))}, False),
        ({"pixels0": np.zeros((4, 5, 3), np.uint16)}, False),
        ({"pixels0": np.zeros((4, 5, 1), np.uint8)}, False),
        ({"pixels0": np.zeros((0, 5, 3), np.uint8)}, False),
        ({"at1": np.array((5, 6))}, False),
    ],
)
def test_a_patch_lies_on_its_photo_and_is_of_its_kind(changed, sound):
    assert are_patches(PATCH | changed, PHOTO, within=True) == sound


def test_what_fills_a_grid_names_places_in_it():
    hole = np.zeros((6, 8), np.bool_)
    hole[:2] = True
    looks = {"thumb": np.zeros((240, 240, 3)), "hole": np.zeros((240, 240))}
    whole = {
        "from_y": np.full((6, 8), 3, np.int16), "from_x": np.full((6, 8), 15, np.int16),
        "colours": np.zeros((6, 8, 3)), "scalars": np.ones(2),
    }  # fmt: skip
    assert are_solved(whole, "", hole)
    side = {f"right_{name}": array for name, array in whole.items()}
    assert are_solved(side, "right_", hole)
    assert not are_solved(side, "left_", hole)
    for name, wrong in {
        "from_y": np.full((6, 8), 6, np.int16),
        "from_x": np.full((6, 8), -1, np.int16),
        "colours": np.zeros((6, 7, 3)),
        "scalars": np.zeros(2),
        "light": np.zeros((6, 9)),
    }.items():
        assert not are_solved(whole | {name: wrong}, "", hole), name
    assert are_look({"figures": np.zeros(2), **looks})
    assert not are_look({"figures": np.array((np.nan, 1)), **looks})
    assert not are_look({})
