"""A data folder's long life: kept within its budgets, checked and repaired, copied and put back."""

from __future__ import annotations
