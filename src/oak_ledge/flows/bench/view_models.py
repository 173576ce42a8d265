"""What the bench is shown of a placement: the shapes of its answers, nothing computed."""

from __future__ import annotations

from pydantic import BaseModel

from oak_ledge.core.gestures.typed import TypedUnit
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.continued import Side
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.placements.zones.on_surface import Shape
from oak_ledge.core.planes.points import Point
from oak_ledge.core.reports.hanging import Hung
from oak_ledge.core.sizes.choices import MethodChoice, SharpenFor
from oak_ledge.core.sizes.file.file_settings import FileSettings
from oak_ledge.flows.bench.stations import Station
from oak_ledge.flows.library.views import SizeView
from oak_ledge.flows.photos.photos import PhotoView
from oak_ledge.flows.pieces.figures import Figures
from oak_ledge.flows.pieces.heads import HeadShown
from oak_ledge.store.placements import State


class Output(BaseModel):
    """What comes out, each figure in words, and as it stands in the fields one can type in."""

    pixels: str
    lengths: str
    ppi: str
    weight: str
    fields: dict[str, str]
    """`ppi`, `width`, `height`, the `unit` of these two, `width_px`, `height_px`, `percent`"""


class Live(Figures):
    """What a gesture answers: everything that changes while dragging, and nothing else."""

    id: int
    lying: Placement
    """as it is kept; a `PUT` takes the same"""
    extent: Pixels
    """of what the crop lies on: the photo as it is turned, or the plane its corners define"""
    outline: tuple[Point, ...]
    """the photo's edge where the crop is meant, clockwise"""
    photo_extent: Pixels
    """the photo as it is turned, whether squared up or not"""
    crop: tuple[float, float, float, float]
    stations: list[Station]
    output: Output
    about_bytes: int | None
    """estimated; None until the photo has been weighed"""
    picture: Pixels
    """the pixels drawn: the file's, or those of all its panels together"""
    panels: tuple[tuple[float, float, float, float], ...]
    """left, top, width and height of each file, as shares of the picture, row by row; one without panels"""
    sides: tuple[float, float] | None
    """how wide its turned-over sides are, as shares of its width and height; None without"""
    joints: str
    """where it is cut in panels, as path data in the unit square; empty where it is not"""
    face: Pixels
    """the proportions the piece is seen in, on dots that may be oblong"""
    head: HeadShown | None
    """the head its size asks for; None where it asks for none"""
    edge: str
    """the outline the piece is cut along, as path data in the unit square; empty for a rectangle"""
    outline_points: tuple[Point, ...]
    """the points of an outline that was drawn by hand, as shares of the picture; none of any other"""
    outline_text: str
    """the outline as it is chosen: a shipped one's word, `path`, or empty without one"""
    outside: str
    """the colour outside it, where its file can't be clear; else empty"""
    insets: tuple[tuple[float, float], tuple[float, float]] | None
    """where print and seen part begin, as shares of the file's width and height"""
    inner: tuple[float, float, float, float]
    """left, top, width and height of the picture, as shares of its print: less than all within a border"""
    border_text: str
    """the border as it is written; empty without one"""
    paper: str
    """the border's colour; empty without one"""
    hung: Hung | None
    """moulding and mat around the piece; None without a frame"""
    beyond: bool
    """the crop may reach beyond the photo"""
    reaches: dict[Side, float]
    """photo pixels of ground that the crop shows beyond each side of the photo; below 0 it ends inside"""
    ground: str
    """what fills there: a colour, or what of the photo"""
    source_words: str
    """what alone is copied into a continued ground, and how often it was painted over; else empty"""
    keeps: tuple[Shape, ...]
    """zones and lines that must stay whole, where the crop is meant"""
    found: tuple[Shape, ...]
    """a subject found in the photo, that waits to be taken or ignored"""
    found_word: str
    squared: str | None
    """what four corners go round, in words"""
    typed: dict[TypedUnit, tuple[str, str, str, str]]
    """left, top, width and height of the crop, in every unit the photo has"""
    method: MethodChoice
    sharpen_for: SharpenFor
    sharpness: int
    """how strong, 0 to 100"""
    marks_for: str | None
    """the profile whose limits can be shown on the piece"""
    finish: str
    """how pixels are resampled and sharpened, in plain words"""
    edges: tuple[str, str]
    """width and height in words, for the measuring lines: `10 in`, `8 in`"""
    file: FileSettings
    """how the file is written"""
    limit: str
    """the most bytes it may have, in words; empty without a limit"""
    file_name: str
    """the name it will have"""
    tightness: float
    """the crop's width as a share of the suggested one's"""
    window: bool
    """a window of whole pixels, that no hand makes larger or smaller"""
    turns: bool
    """False where turning wide ↔ tall changes nothing"""


class PlacementView(Live):
    """A placement with its photo, size, state and history."""

    job_id: int
    job_size_id: int
    photo: PhotoView
    size: SizeView
    size_shape: str
    """the ratio the job's size fixes, in words; empty where it fixes none"""
    own_size: SizeView | None
    """this photo's own exception to the size"""
    state: State
    state_word: str
    can_undo: bool
    can_redo: bool
    steps: list[str]
    """what was done, from the suggestion on"""
    numbers: list[int]
    """which step each of these is; a number is never given twice"""
    step: int
    """the one it stands at"""
    place: int
    """where that one is among them"""
    has_room: bool
    """the crop can be moved; else a drag inside draws a fresh one"""
    ratio_open: bool
    """a hand may give it any ratio"""
    worked_on: bool
    """a hand has been on the crop: it is not the suggestion any more"""
    being_made: bool
    """something of its scene is not there yet; what is seen stands in for it"""
    not_made: str
    """why something of its scene could not be made"""
