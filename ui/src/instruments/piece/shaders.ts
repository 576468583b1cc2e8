import { MOST_TEXTURES, PATTERNS } from '@/craft.generated';

import { GRAINS } from './grain';

const each = (line: (k: number) => string): string =>
  Array.from({ length: MOST_TEXTURES }, (_, k) => line(k)).join('\n');

const DECODED = /* glsl */ `
vec3 decoded(vec3 c) {
  return mix(c / 12.92, pow((c + 0.055) / 1.055, vec3(2.4)), step(0.04045, c));
}`;
const ENCODED = /* glsl */ `
vec3 encoded(vec3 c) {
  return mix(c * 12.92, 1.055 * pow(max(c, 0.0), vec3(1.0 / 2.4)) - 0.055, step(0.0031308, c));
}`;
// What the room is: docs/models.md, "The room a piece is looked at in".
const ROOM = /* glsl */ `
const vec3 WINDOW = vec3(-0.45, 0.62, 0.64);
/** Light of the room from a direction, as the looker stands: ceiling, walls, floor. */
float room(vec3 from) {
  float ceiling = smoothstep(-0.15, 0.7, from.y);
  float floorLight = 0.16 * smoothstep(0.0, -0.8, from.y);
  return 0.1 + 0.95 * ceiling + floorLight;
}
/** Light from all around, some of it sent on by the walls of a hollow, more from the window. */
vec2 diffuse(float open, vec3 n) {
  float hollow = open / (1.0 - 0.45 * (1.0 - open));
  return vec2(hollow, 0.8 + 0.2 * smoothstep(-0.55, 0.7, dot(n, normalize(WINDOW))));
}
vec3 mirrored(vec3 n) {
  return vec3(2.0 * n.z * n.xy, 2.0 * n.z * n.z - 1.0);
}`;

// The colours that come are sRGB; light is added and shaded linear, and encoded once at the end.
export const VERTEX = /* glsl */ `
in vec4 tint;
in vec4 extra; // openness, gloss, part, -
in vec3 facing;
${each((k) => `in vec4 over${k};`)}
out vec3 vTint;
out vec4 vExtra; // openness, gloss, metal, how much it stands out
out vec3 vFacing;
out vec3 vAt;
${each((k) => `out vec4 vOver${k};`)}
uniform float standsOut;
uniform int textures;
${DECODED}
void main() {
  float rest = standsOut < 0.0 || abs(extra.z * 255.0 - standsOut) < 0.5 ? 1.0 : 0.25;
  vTint = decoded(tint.rgb);
  vExtra = vec4(extra.xy, tint.a, rest);
  vFacing = (modelViewMatrix * vec4(facing, 0.0)).xyz;
  vAt = position;
  ${each((k) => `vOver${k} = textures > ${k} ? vec4(decoded(over${k}.rgb), over${k}.a) : vec4(0.0);`)}
  gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
}`;

export const FRAGMENT = /* glsl */ `
precision highp float;
precision highp sampler3D;
in vec3 vTint;
in vec4 vExtra;
in vec3 vFacing;
in vec3 vAt;
${each((k) => `in vec4 vOver${k};`)}
out vec4 shown;
uniform float shading;
uniform int textures;
uniform bool grained;
uniform sampler3D grain;
uniform vec4 pattern[${MOST_TEXTURES}]; // which, grains a unit, how much longer down, softness
uniform float overMetal[${MOST_TEXTURES}];

${ENCODED}
${ROOM}

/** How much of this pixel a step covers that covers a share of the place. */
float covered(vec4 how, float share) {
  if (share < 0.002) return 0.0;
  if (how.x == ${PATTERNS.indexOf('line')}.0 || how.x == ${PATTERNS.indexOf('pool')}.0) {
    // the field itself is the pattern: its middle is the edge
    float wide = max(0.5 * how.w, 0.8 * fwidth(share));
    return smoothstep(0.5 - wide, 0.5 + wide, share);
  }
  if (!grained) return share;
  vec3 at = vAt * how.y * vec3(1.0, 1.0, 1.0 / how.z);
  vec3 per = fwidth(at);
  float fine = max(per.x, max(per.y, per.z));
  vec2 found = texture(grain, at / ${GRAINS}.0).rg;
  float n = how.x == ${PATTERNS.indexOf('dots')}.0 ? found.g : found.r;
  float wide = max(0.5 * how.w, 0.9 * fine);
  float edge = 1.0 + wide - share * (1.0 + 2.0 * wide);
  // grains finer than a pixel are their mean, so that nothing shimmers
  return mix(smoothstep(edge - wide, edge + wide, n), share, smoothstep(0.55, 1.3, fine));
}

void main() {
  vec3 colour = vTint;
  float metal = vExtra.z;
  ${each(
    (k) => `if (textures > ${k}) {
    float here = covered(pattern[${k}], vOver${k}.a);
    colour = mix(colour, vOver${k}.rgb, here);
    metal = mix(metal, overMetal[${k}], here);
  }`,
  )}
  if (shading > 0.5) {
    vec3 n = normalize(vFacing);
    n = n.z < 0.0 ? -n : n;
    float open = vExtra.x;
    float gloss = vExtra.y;
    vec2 light = diffuse(open, n);
    float hollow = light.x;
    vec3 matt = colour * hollow * light.y;
    vec3 from = mirrored(n);
    float toward = dot(from, normalize(WINDOW)) - 1.0;
    float graze = pow(1.0 - n.z, 5.0);
    float seen = smoothstep(0.15, 0.7, open);
    float hard = exp(mix(2.2, 5.6, gloss));
    float gleam = 0.62 * gloss * gloss * gloss * exp(hard * toward)
      + 0.3 * gloss * graze * room(from);
    // flakes lie a little askew, each its own way
    vec3 askew = metal > 0.01 && grained
      ? vec3(texture(grain, vAt * 0.37).r, texture(grain, vAt.zxy * 0.37).r, 0.5) - 0.5
      : vec3(0.0);
    vec3 flake = normalize(from + 0.32 * askew);
    float glint = 1.3 * exp(26.0 * (dot(flake, normalize(WINDOW)) - 1.0));
    vec3 steel = colour * (room(flake) * mix(hollow, 1.0, 0.25) + glint * seen);
    colour = mix(matt, steel, metal) + gleam * seen * mix(vec3(1.0), colour, metal);
  }
  shown = vec4(encoded(min(colour, 1.0)) * mix(1.0, 0.6, 1.0 - step(0.5, vExtra.w)), 1.0);
}`;

/** While something moves: the same light, a vertex at a time, without texture and gleam. */
export const MOVING_VERTEX = /* glsl */ `
in vec4 tint;
in vec4 extra;
in vec3 facing;
out vec3 vShown;
uniform float standsOut;
uniform float shading;
${DECODED}
${ENCODED}
${ROOM}
void main() {
  vec3 colour = tint.rgb;
  if (shading > 0.5) {
    vec3 n = normalize((modelViewMatrix * vec4(facing, 0.0)).xyz);
    // fewer triangles reach under plates, where nothing is open: not black meanwhile
    vec2 light = diffuse(max(extra.x, 0.45), n);
    vec3 linear = decoded(tint.rgb);
    vec3 steel = linear * room(mirrored(n)) * mix(light.x, 1.0, 0.25);
    colour = encoded(min(mix(linear * light.x * light.y, steel, tint.a), 1.0));
  }
  bool rests = standsOut >= 0.0 && abs(extra.z * 255.0 - standsOut) > 0.5;
  vShown = colour * (rests ? 0.6 : 1.0);
  gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
}`;

export const MOVING_FRAGMENT = /* glsl */ `
precision mediump float;
in vec3 vShown;
out vec4 shown;
void main() {
  shown = vec4(vShown, 1.0);
}`;

export const SCREEN_VERTEX = /* glsl */ `
out vec2 at;
void main() {
  at = uv;
  gl_Position = vec4(position.xy, 0.0, 1.0);
}`;

export const SCREEN_FRAGMENT = /* glsl */ `
precision highp float;
in vec2 at;
out vec4 shown;
uniform sampler2D picture;
void main() {
  shown = texture(picture, at);
}`;
