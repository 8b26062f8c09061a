"""The 3D picture of the table: tubes, the jig table's top, stands, drawn off screen by VTK into an image.

One actor holds all tubes, so that software rendering keeps up. The camera comes from `camera`.
"""

import math

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtGui import QImage
from vtkmodules.util.numpy_support import numpy_to_vtk, numpy_to_vtkIdTypeArray, vtk_to_numpy
from vtkmodules.vtkCommonCore import vtkPoints, vtkUnsignedCharArray
from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkPolyData
from vtkmodules.vtkRenderingCore import vtkActor, vtkPolyDataMapper, vtkRenderer
from vtkmodules.vtkRenderingOpenGL2 import vtkEGLRenderWindow

from ironcage.desk.table.camera import VIEW_ANGLE, Camera
from ironcage.desk.table.mesh import Mesh

Bytes = NDArray[np.uint8]


class SceneSolid:
    """Triangles with a colour each corner, as one actor."""

    def __init__(self, *, lit: bool = True) -> None:
        self.data = vtkPolyData()
        mapper = vtkPolyDataMapper()
        mapper.SetInputData(self.data)
        mapper.SetScalarModeToUsePointData()
        self.actor = vtkActor()
        self.actor.SetMapper(mapper)
        look = self.actor.GetProperty()
        look.SetLighting(lit)
        look.SetAmbient(0.38 if lit else 1.0)
        look.SetDiffuse(0.72 if lit else 0.0)
        self._mesh: Mesh | None = None

    def shape(self, mesh: Mesh) -> None:
        """Take other triangles; colours must be given again."""
        points = vtkPoints()
        points.SetData(numpy_to_vtk(mesh.points, deep=0))
        self.data.SetPoints(points)
        self.data.GetPointData().SetNormals(numpy_to_vtk(mesh.normals, deep=0))
        if self._mesh is None or mesh.triangles is not self._mesh.triangles:
            cells = vtkCellArray()
            offsets = np.arange(0, 3 * len(mesh.triangles) + 1, 3, dtype=np.int64)
            cells.SetData(
                numpy_to_vtkIdTypeArray(offsets, deep=1), numpy_to_vtkIdTypeArray(mesh.triangles.ravel(), deep=1)
            )
            self.data.SetPolys(cells)
        self._mesh = mesh  # whose points VTK reads

    def colour(self, rgb: Bytes) -> None:
        """Colour corners (n, 3)."""
        rgb = np.ascontiguousarray(rgb)
        self.data.GetPointData().SetScalars(numpy_to_vtk(rgb, deep=1))
        self.data.Modified()


class Scene:
    """Everything solid on the table, and the window that VTK draws it in off screen."""

    def __init__(self) -> None:
        self.renderer = vtkRenderer()
        # EGL draws off screen the same on every platform, with a graphics card or in software.
        self.window = vtkEGLRenderWindow()
        self.window.SetOffScreenRendering(1)
        self.window.SetMultiSamples(0)
        self.window.AddRenderer(self.renderer)
        self.tubes, self.top, self.stands, self.bodies = SceneSolid(), SceneSolid(lit=False), SceneSolid(), SceneSolid()
        self.top.actor.GetProperty().BackfaceCullingOn()  # looked at from below, the table must not hide the car
        for solid in (self.top, self.stands, self.tubes, self.bodies):
            self.renderer.AddActor(solid.actor)
        self._pixels = vtkUnsignedCharArray()

    def background(self, rgb: tuple[int, int, int]) -> None:
        """The colour behind everything."""
        self.renderer.SetBackground(*(c / 255 for c in rgb))

    def image(self, camera: Camera, scale: float = 1.0, *, fine: bool = False) -> QImage:
        """A picture of what the camera sees, at `scale` pixels for each of the camera's: less while something
        moves, more on a screen of high density; `fine` smooths edges, which takes a software renderer far longer."""
        self.renderer.SetUseFXAA(fine)
        width, height = max(round(camera.width * scale), 8), max(round(camera.height * scale), 8)
        if self.window.GetSize() != (width, height):
            self.window.SetSize(width, height)
        self._aim(camera)
        self.window.Render()
        self.window.GetRGBACharPixelData(0, 0, width - 1, height - 1, 0, self._pixels)
        rows = vtk_to_numpy(self._pixels).reshape(height, width, 4)[::-1]
        image = QImage(width, height, QImage.Format.Format_RGBX8888)
        held = image.bits()
        held.setsize(image.sizeInBytes())
        made = np.frombuffer(held, np.uint8).reshape(height, width, 4)  # type: ignore[call-overload]
        np.copyto(made, rows)
        made[..., 3] = 255  # smoothing leaves less in places, and what the picture is laid on would show through
        return image

    def _aim(self, camera: Camera) -> None:
        _, up, towards = camera.basis
        eye = self.renderer.GetActiveCamera()
        centre = np.array(camera.centre)
        eye.SetFocalPoint(*centre)
        eye.SetPosition(*(centre + towards * camera.distance))
        eye.SetViewUp(*up)
        if camera.view == "free":
            eye.ParallelProjectionOff()
            eye.SetViewAngle(math.degrees(VIEW_ANGLE))
        else:
            eye.ParallelProjectionOn()
            eye.SetParallelScale(camera.mm_per_px * camera.height / 2)
        self.renderer.ResetCameraClippingRange()

    def close(self) -> None:
        """Give the graphics memory back."""
        self.renderer.RemoveAllViewProps()
        self.window.Finalize()
