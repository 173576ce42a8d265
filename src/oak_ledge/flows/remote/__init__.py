"""Work on other machines: what is handed out and comes back, and the worker at the other end.

What is made, and how, is not here: that is `flows/delivery`, the same on every machine.
"""

from __future__ import annotations
