"""`tally`: the arithmetic alone."""

from __future__ import annotations

from oak_ledge.cli.app import app
from oak_ledge.cli.folder import config_of
from oak_ledge.cli.options import Json, Photo
from oak_ledge.cli.report import lines_of
from oak_ledge.cli.shared_options import SharedOptions, with_shared_options
from oak_ledge.cli.trouble import CALL_IS_WRONG, SOME_FAILED, fail, or_fail
from oak_ledge.core.errors import CoreError
from oak_ledge.flows.commands.tell import tell


@app.command()
@with_shared_options
def tally(photo: Photo, options: SharedOptions, as_json: Json = False) -> None:
    """Print the arithmetic from photo to file on one size; nothing is made.

    For example: oak-ledge tally quay.jpg --size 21x29.7cm@300
    """
    if len(options.sizes) > 1:
        fail(CALL_IS_WRONG, "tally tells of one size. Ask once for each")
    if options.way.paint_over is not None or options.way.cut_out is not None:
        from oak_ledge.flows.commands.make import check_masks

        or_fail(lambda: check_masks([photo], options.way, config_of().limits), CALL_IS_WRONG)
    try:
        answer = tell(photo, options.sizes[0], options.way, config_of().limits)
    except CoreError as exc:
        fail(SOME_FAILED, f"{photo}: {exc}")
    print(answer.model_dump_json(indent=2) if as_json else "\n".join(lines_of(answer)))
