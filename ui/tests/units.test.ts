import { afterEach, describe, expect, it } from 'vitest';

import { decimals, length, speed, temperature } from '@/displays/format';
import { chosen, shownAs } from '@/displays/units';

afterEach(() =>
  Object.assign(chosen, { length: 'mm', temperature: 'c', volume: 'drops', decimal: 'auto' }),
);

describe('units by choice', () => {
  it('tells lengths and speeds in millimetres or inches', () => {
    expect([length(50.8), speed(254)]).toEqual(['51 mm', '254 mm/s']);
    chosen.length = 'inch';
    expect([length(50.8), speed(254), length(65)]).toEqual(['2 in', '10 in/s', '2.56 in']);
  });

  it('tells the room in Celsius or Fahrenheit', () => {
    expect(temperature(19.4)).toBe('19.4 °C');
    chosen.temperature = 'f';
    expect([temperature(20), temperature(-40)]).toEqual(['68 °F', '-40 °F']);
  });

  it('goes there and back without loss, and leaves other units alone', () => {
    Object.assign(chosen, { length: 'inch', temperature: 'f' });
    for (const unit of ['mm', 'mm/s', '°C', 'psi', '%', 'µm', '']) {
      const as = shownAs(unit);
      for (const value of [0, 1, 37.5, 250]) expect(as.from(as.to(value))).toBeCloseTo(value, 9);
    }
    expect(['psi', '%', 'µm', 'ml'].map((u) => shownAs(u).unit)).toEqual(['psi', '%', 'µm', 'ml']);
  });

  it('writes numbers with the sign that is chosen', () => {
    chosen.decimal = 'comma';
    expect(decimals(1234.5, 1)).toBe('1234,5');
    chosen.decimal = 'point';
    expect(decimals(1234.5, 1)).toBe('1234.5');
  });
});
