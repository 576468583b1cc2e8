import { describe, expect, it } from 'vitest';

import { BY_HAND, SPRAYED } from '@/craft.generated';
import { api, Refused, sentence, take, takeBytes } from '@/api/client';
import {
  clock,
  decimals,
  duration,
  parseNumber,
  pressure,
  share,
  stepColour,
  stepWords,
} from '@/displays/format';
import { blankPaint } from '@/shelf/blank-paint';

import { coat, hand, serve } from './server';

describe('numbers', () => {
  it.each([
    ['1.5', 1.5],
    ['1,5', 1.5],
    [' -3 ', -3],
    ['', null],
    ['  ', null],
    ['ten', null],
    ['1e999', null],
    ['1,2,3', null],
  ])('%j typed is %j', (typed, meant) => {
    expect(parseNumber(typed)).toBe(meant);
  });

  it('are told to useful precision', () => {
    expect(decimals(1234.567, 1).replace(',', '.')).toBe('1234.6');
    expect(decimals(2, 2)).toBe('2');
    expect(share(0.626)).toBe('63 %');
    expect([share(0), share(0.001), share(0.006)]).toEqual(['0 %', '< 1 %', '1 %']);
  });

  it('tell pressure in the unit that was chosen, and the other one', () => {
    expect(pressure(20, 'psi')).toEqual({ first: '20 psi', second: '1.38 bar' });
    expect(pressure(20, 'bar')).toEqual({ first: '1.38 bar', second: '20 psi' });
  });

  it.each([
    [1, '1 s'],
    [42, '40 s'],
    [89, '90 s'],
    [100, '2 min'],
    [5000, '83 min'],
    [7260, '2 h 1 min'],
  ])('%i s is %s', (seconds, told) => {
    expect(duration(seconds)).toBe(told);
  });

  it('tell the time of a day', () => {
    expect(clock(3599)).toBe('0:59');
    expect(clock(3661)).toBe('1:01');
  });
});

describe('steps', () => {
  it('have a word for all that a step can be', () => {
    for (const { id } of SPRAYED) expect(stepWords(coat('a', 'A', id))).not.toBe('');
    for (const { id } of BY_HAND) expect(stepWords(hand('a', id))).not.toBe('');
  });

  it('are told by the colour of their paint', () => {
    expect(stepColour(coat('a', 'Wrack Green'))).toBe('#4b5a35');
    expect(stepColour(hand('a', 'rest', false))).toBe('#8d8e8c');
  });

  it('start from a blank paint of their own', () => {
    const usual = { maker: 'Oddmere', range: '', kind: 'ink', drop_ul: 45 } as const;
    const one = blankPaint(usual);
    one.name = 'Slate';
    expect(blankPaint(usual).name).toBe('');
    expect(one).toMatchObject({ ...usual, colour_from: 'guessed' });
  });
});

describe('what the server refuses', () => {
  it('is told by its own sentence, status and code', async () => {
    serve(() => ({
      status: 422,
      body: { detail: 'height_mm is 0; accepted are 1 to 2000.', code: 'range' },
    }));
    const error = await take(api.GET('/api/shelf')).catch((e: unknown) => e);
    expect(error).toBeInstanceOf(Refused);
    expect(error).toMatchObject({ status: 422, code: 'range' });
    expect(sentence(error)).toBe('height_mm is 0; accepted are 1 to 2000.');
  });

  it('has a sentence even when the answer has none', async () => {
    serve(() => ({ status: 500, body: {} }));
    await expect(take(api.GET('/api/shelf'))).rejects.toThrow('Haze refused this (500)');
  });

  it('is told apart from a server that does not answer', async () => {
    serve(() => 'unreachable');
    await expect(take(api.GET('/api/shelf'))).rejects.toThrow('Haze does not answer');
    await expect(takeBytes('/api/x')).rejects.toMatchObject({ code: 'unreachable' });
  });

  it('holds for bytes too', async () => {
    serve(() => ({ status: 404, body: { detail: 'No such piece.', code: 'missing' } }));
    await expect(takeBytes('/api/pieces/x/geometry')).rejects.toMatchObject({
      message: 'No such piece.',
      code: 'missing',
    });
  });
});
