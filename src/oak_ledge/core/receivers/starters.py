"""The three receivers the demo begins with; the stand-ins go by their rules too."""

from __future__ import annotations

from oak_ledge.core.receivers.receiver import Receiver

_PAPERS = [
    "4x6in",
    "5x7in",
    "6x8in",
    "8x8in",
    "8x10in",
    "8x12in",
    "11x14in",
    "12x18in",
    "16x20in",
    "20x30in",
    "24x36in",
    "105x148mm",
    "148x210mm",
    "210x297mm",
    "297x420mm",
    "420x594mm",
    "10x15cm",
    "13x18cm",
    "20x30cm",
    "20x25cm",
    "24x30cm",
    "30x40cm",
    "40x50cm",
    "50x70cm",
    "40x60cm",
]

# By their kind of stand-in.
STARTERS: dict[str, Receiver] = {
    kind: Receiver.model_validate(fields)
    for kind, fields in {
        "lab": {
            "name": "Harbour print lab",
            "takes": {
                "sizes": _PAPERS,
                "ppi": [150, 720],
                "formats": ["jpeg", "tiff"],
                "profiles": ["srgb", "p3"],
                "bleed": "3mm",
            },
            "way": {"kind": "sftp", "url": "sftp://prints@lab.example/in", "secret": "env:LAB_PASSWORD"},
        },
        "marketplace": {
            "name": "Stall marketplace",
            "takes": {
                "long_edge": [1600, None],
                "formats": ["jpeg", "png", "webp"],
                "at_most": "5MB",
                "most_files": 12,
                "first_on_plain_ground": True,
            },
            "way": {"kind": "http", "url": "https://pictures.stall.example/in", "secret": "env:STALL_TOKEN"},
        },
        "sign": {
            "name": "Sign on the quay",
            "takes": {"pixels": [[384, 160]], "formats": ["png", "jpeg"], "at_most": "150kB"},
            "way": {"kind": "webdav", "url": "https://sign.example/now", "user": "quay", "secret": "env:SIGN_PASSWORD"},
        },
    }.items()
}  # fmt: skip
