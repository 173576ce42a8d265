"""The tries of a fill: which ways there are, and which of them is shown first."""
