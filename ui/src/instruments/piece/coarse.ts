/**
 * Fewer triangles over the same vertices, for drawing while something moves: the vertices of one
 * grid cell are drawn as the first of them, and what collapses is left out. Cell in mesh units.
 */
export function coarseCorners(
  positions: Float32Array,
  corners: Uint32Array,
  cell: number,
): Uint32Array {
  const first = new Map<number, number>();
  const stand = new Uint32Array(positions.length / 3);
  for (let v = 0; v < stand.length; v += 1) {
    // 1,024 cells an axis hold any prepared piece
    const key = [0, 1, 2].reduce(
      (sum, axis) => sum * 1024 + (Math.floor(positions[3 * v + axis]! / cell) + 512),
      0,
    );
    const known = first.get(key);
    if (known === undefined) first.set(key, v);
    stand[v] = known ?? v;
  }
  const kept: number[] = [];
  for (let i = 0; i < corners.length; i += 3) {
    const a = stand[corners[i]!]!;
    const b = stand[corners[i + 1]!]!;
    const c = stand[corners[i + 2]!]!;
    if (a !== b && b !== c && c !== a) kept.push(a, b, c);
  }
  return Uint32Array.from(kept);
}
