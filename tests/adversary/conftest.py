from __future__ import annotations

from hypothesis import settings

# The same examples every time, so that a run says of the code alone whether something broke. Longer
# and other runs are made by `make crucible`.
settings.register_profile("adversary", derandomize=True, deadline=None)
settings.load_profile("adversary")
