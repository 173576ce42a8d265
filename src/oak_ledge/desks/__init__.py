"""Stand-ins for those who receive files: they check as strictly as the real ones, and remember nothing."""

from __future__ import annotations

from oak_ledge.desks.desk import Answer, Desk, Fix, Parcel
from oak_ledge.desks.lab import Lab
from oak_ledge.desks.marketplace import Marketplace
from oak_ledge.desks.sign import Sign

DESKS: dict[str, Desk] = {desk.name: desk for desk in (Lab(), Marketplace(), Sign())}

__all__ = ["DESKS", "Answer", "Desk", "Fix", "Parcel"]
