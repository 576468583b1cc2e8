// A WebGL that takes every call and draws nothing, for tests that never look at the picture:
// drawing without a graphics chip takes about two fifths of the time a plan needs to open.
(() => {
  const known = Object.getOwnPropertyDescriptors(WebGL2RenderingContext.prototype);
  const gl = {};
  for (const [name, { value }] of Object.entries(known)) {
    if (typeof value === 'number') gl[name] = value;
  }
  const answers = {
    getExtension: () => null,
    getSupportedExtensions: () => [],
    isContextLost: () => false,
    getContextAttributes: () => ({ alpha: true, depth: true, antialias: true }),
    getShaderPrecisionFormat: () => ({ rangeMin: 127, rangeMax: 127, precision: 23 }),
    getShaderParameter: () => true,
    getShaderInfoLog: () => '',
    getProgramInfoLog: () => '',
    getProgramParameter: (_, what) => ![gl.ACTIVE_UNIFORMS, gl.ACTIVE_ATTRIBUTES].includes(what) && 1,
    getError: () => gl.NO_ERROR,
    checkFramebufferStatus: () => gl.FRAMEBUFFER_COMPLETE,
    clientWaitSync: () => gl.ALREADY_SIGNALED,
    getSyncParameter: () => gl.SIGNALED,
    getParameter: (what) => {
      if (what === gl.VERSION) return 'WebGL 2.0';
      if (what === gl.SHADING_LANGUAGE_VERSION) return 'WebGL GLSL ES 3.00';
      if (what === gl.VIEWPORT || what === gl.SCISSOR_BOX) return new Int32Array(4);
      return what === gl.MAX_TEXTURE_SIZE ? 8192 : 16;
    },
  };
  const made = (name) => (/^create|^fence/.test(name) ? {} : undefined);
  const unseen = (canvas) =>
    new Proxy(Object.assign({ canvas }, gl, answers), {
      get: (known, name) => (name in known ? known[name] : () => made(String(name))),
    });
  const kept = new WeakMap();
  const real = HTMLCanvasElement.prototype.getContext;
  HTMLCanvasElement.prototype.getContext = function (kind, ...more) {
    if (!kind.startsWith('webgl')) return real.call(this, kind, ...more);
    if (!kept.has(this)) kept.set(this, unseen(this));
    return kept.get(this);
  };
})();
