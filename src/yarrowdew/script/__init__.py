"""Figures from a script or a notebook; what is offered is offered by `yarrowdew` itself."""
