"""Meshes made for tests, and their files in every kind."""

import struct
from pathlib import Path

import numpy as np


def ball_corners(radius: float, around: int, middle: tuple[float, float, float] = (0, 0, 0)) -> np.ndarray:
    """A ball as triangles (t, 3, 3), so many round its girth, facing outward."""
    polar = np.linspace(0, np.pi, around // 2 + 1)
    turn = np.linspace(0, 2 * np.pi, around + 1)
    turn[-1] = 0.0
    grid = np.stack(
        [
            np.outer(np.sin(polar), np.cos(turn)),
            np.outer(np.sin(polar), np.sin(turn)),
            np.outer(np.cos(polar), np.ones(around + 1)),
        ],
        axis=2,
    )
    grid[0], grid[-1] = (0, 0, 1), (0, 0, -1)
    return (_triangles(grid) * radius + middle).astype(np.float32)


def tube_corners(radius: float, length: float, around: int, along: int) -> np.ndarray:
    """The skin of a tube about z from 0 as triangles (t, 3, 3), open at both ends, facing outward."""
    turn = np.linspace(0, 2 * np.pi, around + 1)
    turn[-1] = 0.0
    high = np.linspace(length, 0, along + 1)
    ring = np.stack([radius * np.cos(turn), radius * np.sin(turn)], axis=1)
    grid = np.concatenate(
        [np.repeat(ring[None], along + 1, axis=0), np.repeat(high[:, None, None], around + 1, axis=1)], axis=2
    )
    return _triangles(grid).astype(np.float32)


def _triangles(grid: np.ndarray) -> np.ndarray:
    """Two triangles (t, 3, 3) for each field of a grid of places (n, m, 3), those without area left out."""
    a, b, c, d = grid[:-1, :-1], grid[1:, :-1], grid[1:, 1:], grid[:-1, 1:]
    tris = np.concatenate(
        [np.stack([a, b, c], axis=2).reshape(-1, 3, 3), np.stack([a, c, d], axis=2).reshape(-1, 3, 3)]
    )
    area = np.linalg.norm(np.cross(tris[:, 1] - tris[:, 0], tris[:, 2] - tris[:, 0]), axis=1)
    return tris[area > 1e-12]


def write_stl(path: Path, corners: np.ndarray) -> Path:
    rows = np.zeros(len(corners), dtype=np.dtype([("n", "<f4", 3), ("c", "<f4", (3, 3)), ("x", "<u2")]))
    rows["c"] = corners
    path.write_bytes(b"scan".ljust(80) + struct.pack("<I", len(corners)) + rows.tobytes())
    return path


def write_text_stl(path: Path, corners: np.ndarray) -> Path:
    lines = ["solid scan"]
    for tri in corners:
        lines += [
            "facet normal 0 0 0",
            "outer loop",
            *(f"vertex {x:.9g} {y:.9g} {z:.9g}" for x, y, z in tri),
            "endloop",
            "endfacet",
        ]
    path.write_text("\n".join([*lines, "endsolid scan"]) + "\n")
    return path


def write_obj(path: Path, corners: np.ndarray) -> Path:
    lines = [f"v {x:.9g} {y:.9g} {z:.9g}" for x, y, z in corners.reshape(-1, 3)]
    lines += [f"f {3 * n + 1}//1 {3 * n + 2}//1 {3 * n + 3}//1" for n in range(len(corners))]
    path.write_text("\n".join(lines) + "\n")
    return path


def write_ply(path: Path, corners: np.ndarray, form: str) -> Path:
    flat = corners.reshape(-1, 3)
    head = (
        f"ply\nformat {form} 1.0\nelement vertex {len(flat)}\nproperty float x\nproperty float y\nproperty float z\n"
        f"element face {len(corners)}\nproperty list uchar int vertex_indices\nend_header\n"
    )
    faces = np.arange(len(flat)).reshape(-1, 3)
    if form == "ascii":
        body = (
            "\n".join(
                [*(" ".join(f"{v:.9g}" for v in p) for p in flat), *(f"3 {a} {b} {c}" for a, b, c in faces)]
            ).encode()
            + b"\n"
        )
    else:
        order = "<" if "little" in form else ">"
        rows = np.zeros(len(faces), dtype=np.dtype([("n", "u1"), ("c", order + "i4", 3)]))
        rows["n"], rows["c"] = 3, faces
        body = flat.astype(order + "f4").tobytes() + rows.tobytes()
    path.write_bytes(head.encode() + body)
    return path
