import { contours } from 'd3-contour';

/** The path round all cells of a grid that are at or over a level; rows run upward. */
export function regionOf(grid: number[][], level: number, width: number, height: number): string {
  const rows = grid.length;
  const columns = grid[0]?.length ?? 0;
  if (rows < 2 || columns < 2) return '';
  const [shape] = contours().size([columns, rows]).thresholds([level])(grid.flat());
  const x = (at: number): string => (((at - 0.5) / (columns - 1)) * width).toFixed(1);
  const y = (at: number): string => ((1 - (at - 0.5) / (rows - 1)) * height).toFixed(1);
  return (shape?.coordinates ?? [])
    .flat()
    .map((ring) => `M${ring.map(([a, b]) => `${x(a!)} ${y(b!)}`).join('L')}Z`)
    .join('');
}

/** The cell of a grid nearest to a place on both axes, 0 to 1. */
export function cellAt(grid: number[][], across: number, up: number): number {
  const row = grid[Math.round(up * (grid.length - 1))];
  return row?.[Math.round(across * (row.length - 1))] ?? 0;
}
