"""The process that reads foreign files: it loads what decodes them once, and begins itself anew for each.

`python -m oak_ledge.flows.walls.reader HANDLE`: on that socket come files, each with a pipe for its answer.
"""

from __future__ import annotations

import gc
import os
import signal
import socket
import sys
from pathlib import Path

from oak_ledge.core.errors import CoreError
from oak_ledge.core.pixels.process_setup import load_decoders, settle_process

settle_process()  # before numpy is loaded

from oak_ledge.core.pixels.open.facts import look_at  # noqa: E402
from oak_ledge.core.pixels.show.preview import draw_preview  # noqa: E402
from oak_ledge.flows.walls.answer import GO, ReaderAnswer, ReadRequest, write_answer  # noqa: E402
from oak_ledge.flows.walls.walls import limit, shut, wind_up  # noqa: E402

# Seconds without a file until this process ends.
REST = 300.0

# Bytes of what is wanted.
MOST_ASKED = 4096


def main(handle: int) -> None:
    """Answer until whoever asks is gone."""
    load_decoders()
    gc.collect()
    gc.freeze()  # what is loaded is shared with those that read, as long as nobody touches it
    gc.disable()
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)  # nobody waits for those that are done
    with socket.socket(fileno=handle) as line:
        line.settimeout(REST)
        while True:
            try:
                data, handles, _, _ = socket.recv_fds(line, MOST_ASKED, 2)
            except TimeoutError:  # its memory is given back; whoever has a file begins another
                return
            if not data:
                return
            if len(handles) == 2:
                _begin(line, data, *handles)
            for given in handles:
                os.close(given)


def _begin(line: socket.socket, data: bytes, file: int, pipe: int) -> None:
    """Read a file in a process of its own; it answers through a pipe that goes both ways."""
    if os.fork():
        return
    try:
        line.close()
        signal.signal(signal.SIGCHLD, signal.SIG_DFL)
        _answer(ReadRequest.model_validate_json(data), Path(f"/proc/self/fd/{file}"), pipe)
    finally:
        os._exit(0)


def _answer(wanted: ReadRequest, file: Path, pipe: int) -> None:
    limit()
    unshut = shut(file)
    try:
        facts = look_at(file, most_pixels=wanted.most_pixels, most_whole=wanted.most_whole)
        write_answer(pipe, ReaderAnswer(facts=facts, unshut=unshut))
        wind_up(0)
        if os.read(pipe, len(GO)) != GO:
            return
        wind_up()
        picture = draw_preview(file, wanted.edge)
    except (CoreError, OSError) as exc:
        reason = str(exc) if isinstance(exc, CoreError) else "the file is damaged"
        write_answer(pipe, ReaderAnswer(refused=reason, unshut=unshut))
        return
    except MemoryError:
        reason = "it needs more memory than there is for one photo; make it smaller first"
        write_answer(pipe, ReaderAnswer(refused=reason, unshut=unshut))
        return
    write_answer(pipe, ReaderAnswer(facts=facts, unshut=unshut), picture)


if __name__ == "__main__":
    main(int(sys.argv[1]))
