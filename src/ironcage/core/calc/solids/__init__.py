"""What takes up room: `convex` solids, the `gaps` between them, meshes of `triangles`, and circles fitted to those."""
