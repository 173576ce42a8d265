"""Three hundred hostile files, brought in one by one by a process of its own each: none may end in anything
but a plain reason or a photo, take over ten seconds, or more than a gigabyte.

    python -m benchmarks.hostile [how many]
"""

from __future__ import annotations

import json
import os
import random
import struct
import subprocess
import sys
import tempfile
import time
import zlib
from collections.abc import Iterator
from io import BytesIO
from pathlib import Path

import numpy as np
import pyvips
from PIL import Image
from tests import samples

from oak_ledge.core.pixels.encode.jpeg import segment

LONG, LARGE = 10.0, 1000  # seconds, MB


def plain(kind: str, width=300, height=200, **options) -> bytes:
    return samples.bytes_of(samples.grain(width, height), kind, **options)


def exif(count: int) -> bytes:
    head = struct.pack("<IHHHIII", 8, 1, 0x10F, 2, count, 26, 0)
    return b"Exif\0\0II*\0" + head + b"a" * count


def made_up() -> Iterator[tuple[str, bytes]]:
    """Files that lie in ways of their own."""
    jpeg, png, tiff = plain("JPEG"), plain("PNG"), plain("TIFF")
    yield from ((name, data) for name, (data, _) in samples.wrong_files().items())
    yield "exif-1000.jpg", jpeg[:2] + segment(0xE1, exif(60_000)) * 1000 + jpeg[2:]
    yield "profiles-1000.jpg", jpeg[:2] + segment(0xE2, b"x" * 60_000) * 1000 + jpeg[2:]
    yield "comments.jpg", jpeg[:2] + segment(0xFE, b"") * 300_000 + jpeg[2:]
    yield "density-0.jpg", jpeg.replace(b"JFIF\0\1\1\0\0\1\0\1", b"JFIF\0\1\1\1\0\0\0\0")
    yield "four-bytes.tif", b"II*\0"
    yield "no-width.tif", tiff.replace(struct.pack("<HHI", 256, 4, 1), struct.pack("<HHI", 9, 4, 1))
    yield "cycle.tif", b"II*\0" + struct.pack("<IH", 8, 0) + struct.pack("<I", 8)
    yield "many-tags.tif", b"II*\0" + struct.pack("<IH", 8, 65535) + b"\0" * (12 * 65535 + 4)
    yield "tag-of-4-GB.tif", b"II*\0" + struct.pack("<IHHHIII", 8, 1, 700, 1, 2**32 - 1, 26, 0)
    yield "tall.png", samples.bytes_of(np.zeros((100_000, 1, 3), np.uint8), "PNG")
    yield "wide.png", samples.bytes_of(np.zeros((1, 100_000, 3), np.uint8), "PNG")
    black = pyvips.Image.black(16_383, 16_383, bands=3).copy(interpretation="srgb")
    yield "full.webp", bytes(black.webpsave_buffer(lossless=True, effort=0))
    square = black.crop(0, 0, 12_000, 12_000)
    yield "full.avif", bytes(square.heifsave_buffer(compression="av1", effort=0, Q=1))
    large = black.crop(0, 0, 16_000, 16_000)
    yield "large.png", bytes(large.pngsave_buffer(compression=1))
    yield "large-interlaced.png", bytes(square.pngsave_buffer(compression=1, interlace=True))
    yield "large.jpg", bytes(large.jpegsave_buffer(Q=1))
    yield "large-progressive.jpg", bytes(square.jpegsave_buffer(Q=1, interlace=True))
    yield "one-strip.tif", bytes(square.tiffsave_buffer(compression="deflate", tile=False))
    yield (
        "one-tile.tif",
        bytes(
            square.tiffsave_buffer(
                compression="deflate", tile=True, tile_width=11_904, tile_height=11_904
            )
        ),
    )
    body = zlib.compress(b"\0" * 200_000_000)
    text = struct.pack(">I", len(body) + 6) + b"zTXt" + b"a\0\0" + body
    yield "text-bomb.png", png[:33] + text + struct.pack(">I", zlib.crc32(text[4:])) + png[33:]
    heic = BytesIO()
    try:
        import pillow_heif

        pillow_heif.from_pillow(Image.new("RGB", (64, 64))).save(heic, quality=50)
    except (RuntimeError, ValueError, OSError):
        return
    data = bytearray(heic.getvalue())
    at = data.find(b"ispe")
    data[at + 8 : at + 16] = struct.pack(">II", 2**31 - 1, 2**31 - 1)
    yield "endless.heic", bytes(data)


def spoilt(count: int) -> Iterator[tuple[str, bytes]]:
    """Sound files with some bytes changed, the most of them near the head."""
    dice = random.Random(11)
    kinds = {"JPEG": "jpg", "PNG": "png", "TIFF": "tif", "WebP": "webp", "AVIF": "avif"}
    whole = {kind: plain(kind) for kind in kinds}
    for number in range(count):
        kind = dice.choice(list(kinds))
        data = bytearray(whole[kind])
        for _ in range(dice.choice((1, 2, 4, 16))):
            at = int(len(data) * dice.random() ** dice.choice((1, 3, 6)))
            data[min(at, len(data) - 1)] = dice.choice((0, 255, 127, dice.randrange(256)))
        if dice.random() < 0.2:
            del data[int(len(data) * dice.random()) :]
        yield f"spoilt-{number}.{kinds[kind]}", bytes(data)


def bring(data: Path, file: Path) -> None:
    """Bring one file in as the server does, look at it, place it, and tell how it went."""
    from datetime import UTC, datetime

    from oak_ledge.core.files.limits import Limits
    from oak_ledge.flows.bench import view as bench
    from oak_ledge.flows.jobs import jobs
    from oak_ledge.flows.photos import photos
    from oak_ledge.flows.photos.photos import Incoming
    from oak_ledge.flows.workspace import open_workspace

    now = datetime(2026, 11, 27, tzinfo=UTC)
    workspace = open_workspace(data, Limits())
    with file.open("rb") as stream:
        answer = photos.take_in(workspace, [Incoming(file.name, stream)], now)
    word = answer.refused[0].reason if answer.refused else "taken"
    if answer.photos:
        job_id = jobs.start(workspace, "x", [answer.photos[0].id], [], ["90x80px", "100%"], now)
        for piece in jobs.view(workspace, job_id).placements:
            bench.view(workspace, piece.id, weigh=True)
    status = dict(line.split(":", 1) for line in Path("/proc/self/status").read_text().splitlines())
    print(json.dumps({"word": word, "mb": int(status["VmHWM"].split()[0]) // 1024}))


def main(count: int) -> int:
    folder = Path(tempfile.mkdtemp(prefix="oak-ledge-hostile-"))
    bad, refused, taken, worst, longest = [], 0, 0, (0, ""), (0.0, "")
    files = list(made_up())
    for name, data in [*files, *spoilt(count - len(files))]:
        path = folder / name
        path.write_bytes(data)
        begun = time.monotonic()
        run = subprocess.run(
            [sys.executable, "-W", "ignore", "-m", "benchmarks.hostile", "bring", folder / "data", path],
            capture_output=True, text=True, timeout=120, check=False, env=os.environ,
        )  # fmt: skip
        took = time.monotonic() - begun
        longest = max(longest, (took, name))
        try:
            answer = json.loads(run.stdout.splitlines()[-1])
        except (IndexError, ValueError):
            bad.append(f"{name}: {run.stderr.strip().splitlines()[-1:]}")
            continue
        worst = max(worst, (answer["mb"], name))
        taken, refused = taken + (answer["word"] == "taken"), refused + (answer["word"] != "taken")
        if took > LONG or answer["mb"] > LARGE:
            bad.append(f"{name}: {took:.1f} s, {answer['mb']} MB: {answer['word']}")
        path.unlink()
    print(f"{refused} refused in words, {taken} taken; the longest {longest}, the largest {worst}")
    print("\n".join(bad) or "none failed, none was slow, none was large")
    return 1 if bad else 0


if __name__ == "__main__":
    if sys.argv[1:2] == ["bring"]:
        bring(Path(sys.argv[2]), Path(sys.argv[3]))
    else:
        sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 300))
