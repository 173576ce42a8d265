"""Oak Ledge: prepares photographs for exact print sizes, frames, marketplaces and screens.

`core` computes, `store` keeps, `flows` are the steps that web and command line share,
`web` and `cli` talk to people. Each layer may import only those named before it.
"""

from __future__ import annotations

# As the package and the changelog name it.
VERSION = "0.11.0"
