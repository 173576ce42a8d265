"""`tally`: the arithmetic alone."""

from __future__ import annotations

from oak_ledge.cli.app import app
from oak_ledge.cli.folder import config_of
from oak_ledge.cli.options import Json, Photo
from oak_ledge.cli.report import lines_of
from oak_ledge.cli.shared_options import Said, told_alike
from oak_ledge.cli.trouble import CALL_IS_WRONG, SOME_FAILED, fail, told_or_fail
from oak_ledge.core.errors import CoreError
from oak_ledge.flows.commands.tell import tell


@app.command()
@told_alike
def tally(photo: Photo, said: Said, as_json: Json = False) -> None:
    """Tell the arithmetic from photo to file on one size; nothing is made.

    For example: oak-ledge tally quay.jpg --size 21x29.7cm@300
    """
    if len(said.sizes) > 1:
        fail(CALL_IS_WRONG, "tally tells of one size. Ask once for each")
    if said.way.paint_over is not None:
        from oak_ledge.flows.commands.make import check_masks

        told_or_fail(lambda: check_masks([photo], said.way, config_of().limits), CALL_IS_WRONG)
    try:
        answer = tell(photo, said.sizes[0], said.way, config_of().limits)
    except CoreError as exc:
        fail(SOME_FAILED, f"{photo}: {exc}")
    print(answer.model_dump_json(indent=2) if as_json else "\n".join(lines_of(answer)))
