"""The ground in plan: triangles through the shots, contours, fall, and where water ponds."""

from weirant.ground.surface.triangles import Surface, build_surface

__all__ = ["Surface", "build_surface"]
