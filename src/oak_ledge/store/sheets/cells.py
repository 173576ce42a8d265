"""Cells of a sheet: sizes of a job that only one photo lies on, and that stand on no ledge."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy.orm import Session

from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.sizes.size import Size
from oak_ledge.store.placements import add_placements
from oak_ledge.store.tables import JobSizeRow, PlacementRow


def add(
    session: Session, job_id: int, member: int, size: Size, placement: Placement, now: datetime
) -> int:
    """Add a cell with a photo of the job laid in it; give the placement's id.

    Its size is taken out of the job as soon as it is added: it is the sheet's alone.
    """
    row = JobSizeRow(job_id=job_id, size=size, position=0, out=now)
    session.add(row)
    session.flush()
    add_placements(session, job_id, [(member, row.id, placement)])
    row_ids = session.query(PlacementRow.id).filter_by(job_size_id=row.id).one()
    return int(row_ids[0])
