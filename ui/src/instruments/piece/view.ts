/** From where a piece is looked at, and how near: turned and moved alike on two cards. */
export interface View {
  azimuth: number;
  elevation: number;
  zoom: number;
  /** What the middle of the card looks at, as shares of its half height. */
  pan: [number, number];
}

export const HOME: Readonly<View> = { azimuth: 18, elevation: 12, zoom: 1, pan: [0, 0] };

/** What the arrow keys turn a piece by [°]. */
export const TURN_KEYS: Readonly<Record<string, [across: number, up: number]>> = {
  ArrowLeft: [-10, 0],
  ArrowRight: [10, 0],
  ArrowUp: [0, 10],
  ArrowDown: [0, -10],
};
