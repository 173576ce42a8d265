"""`stand`: the process of a standing order, which the server begins."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from oak_ledge.cli.app import app
from oak_ledge.cli.commands.watch import follow
from oak_ledge.cli.folder import config_of, let_others_first, opened
from oak_ledge.cli.options import Data, UntilInputEnds
from oak_ledge.cli.trouble import CALL_IS_WRONG, fail, or_fail


@app.command(hidden=True)
def stand(
    order: Annotated[int, typer.Argument(metavar="ORDER", help="its number")],
    data: Data = None,
    until_input_ends: UntilInputEnds = False,
) -> None:
    """Follow a standing order of a data folder until it is ended."""
    from oak_ledge.flows.commands.tell import LyingOptions
    from oak_ledge.flows.watch import standing_orders
    from oak_ledge.flows.watch.folder import Watched

    let_others_first(until_input_ends=until_input_ends)
    config = config_of(data=data)
    standing_order = or_fail(lambda: standing_orders.followed(opened(config), order), CALL_IS_WRONG)
    folder = Path(standing_order.folder)
    if not folder.is_dir():
        fail(CALL_IS_WRONG, f"{folder} is not there. Put it back, or end the order")
    files, sizes = Path(standing_order.out), standing_order.sizes.sizes
    watched = Watched(
        folder, files, sizes, LyingOptions(), config.limits, to_take=standing_orders.TO_TAKE
    )
    # what came stands beside each photo: said here, it would be taken for why this process ended
    follow(watched, came=lambda _: None, patience=10)
