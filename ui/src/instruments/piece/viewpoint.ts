import { OrthographicCamera, Vector3 } from 'three';

import { framed, type Insets } from './framing';
import type { View } from './view';

const MARGIN = 1.06; // about the piece on its card
const NEAREST = 12;
const FARTHEST = 0.6;
const FAR = 400; // of the camera, in units of the piece

export interface Card {
  width: number;
  height: number;
}

export function towards(azimuth: number, elevation: number): Vector3 {
  const a = (azimuth * Math.PI) / 180;
  const e = (elevation * Math.PI) / 180;
  return new Vector3(-Math.sin(a) * Math.cos(e), -Math.cos(a) * Math.cos(e), Math.sin(e));
}

export function turned(view: View, across: number, up: number): View {
  return {
    ...view,
    azimuth: (view.azimuth + across + 360) % 360,
    elevation: Math.min(89, Math.max(-89, view.elevation + up)),
  };
}

/** Nearer or farther; what lies under a point of the card (0..1 from its upper left) stays. */
export function magnified(view: View, card: Card, factor: number, x: number, y: number): View {
  const zoom = Math.min(NEAREST, Math.max(FARTHEST, view.zoom * factor));
  const gone = 1 / view.zoom - 1 / zoom;
  const right = view.pan[0] + (2 * x - 1) * (card.width / card.height) * gone;
  return inSight({ ...view, zoom, pan: [right, view.pan[1] + (1 - 2 * y) * gone] }, card);
}

/** The piece moved on its card by pixels. */
export function moved(view: View, card: Card, right: number, down: number): View {
  const share = 2 / (card.height * view.zoom);
  return inSight({ ...view, pan: [view.pan[0] - right * share, view.pan[1] + down * share] }, card);
}

function inSight(view: View, card: Card): View {
  if (view.zoom <= 1) return { ...view, pan: [0, 0] };
  const within = (value: number, most: number): number => Math.min(most, Math.max(-most, value));
  return { ...view, pan: [within(view.pan[0], card.width / card.height), within(view.pan[1], 1)] };
}

/** Point a camera at a piece, known by its outermost points, as it is looked at. */
export function aim(
  camera: OrthographicCamera,
  points: Float32Array,
  view: View,
  card: Card,
  insets: Insets,
): void {
  const { half, y } = framed(points, view, card, insets, MARGIN);
  const a = (view.azimuth * Math.PI) / 180;
  const e = (view.elevation * Math.PI) / 180;
  const right = new Vector3(Math.cos(a), -Math.sin(a), 0);
  const up = new Vector3(Math.sin(a) * Math.sin(e), Math.cos(a) * Math.sin(e), Math.cos(e));
  const at = right
    .multiplyScalar(view.pan[0] * half)
    .add(up.multiplyScalar(y + view.pan[1] * half));
  camera.position.copy(towards(view.azimuth, view.elevation).multiplyScalar(FAR).add(at));
  camera.lookAt(at);
  camera.top = half / view.zoom;
  camera.right = camera.top * (card.width / card.height);
  camera.bottom = -camera.top;
  camera.left = -camera.right;
  camera.updateProjectionMatrix();
}
