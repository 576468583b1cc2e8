/** A prepared piece as the server sends it; see geometry_bytes there. */
export interface PieceGeometry {
  positions: Float32Array;
  normals: Int8Array;
  openness: Uint8Array;
  part: Uint8Array;
  corners: Uint32Array;
  vertices: number;
}

export function readGeometry(buffer: ArrayBuffer): PieceGeometry {
  const [vertices = 0, faces = 0] = new Uint32Array(buffer, 0, 2);
  let at = 8;
  const positions = new Float32Array(buffer, at, vertices * 3);
  at += vertices * 12;
  const normals = new Int8Array(buffer, at, vertices * 4);
  at += vertices * 4;
  const openness = new Uint8Array(buffer, at, vertices);
  at += Math.ceil(vertices / 4) * 4;
  const part = new Uint8Array(buffer, at, vertices);
  at += Math.ceil(vertices / 4) * 4;
  const corners = new Uint32Array(buffer, at, faces * 3);
  return { positions, normals, openness, part, corners, vertices };
}
