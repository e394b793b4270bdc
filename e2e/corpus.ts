import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ShaderChunk } from 'three';

/** GLSL that nobody here wrote: packages that are installed for the tests. */
const MODULES = new URL('../node_modules/', import.meta.url).pathname;

export interface ForeignSource {
  readonly name: string;
  readonly text: string;
}

/** What a renderer puts before its fragments, and its chunks expect. */
const BEFORE = `float luminance(const in vec3 rgb) { return dot(vec3(0.2126, 0.7152, 0.0722), rgb); }
const bool isOrthographic = false;
vec4 sRGBTransferOETF(in vec4 value) { return vec4(mix(pow(value.rgb, vec3(0.41666)) * 1.055 - vec3(0.055), value.rgb * 12.92, vec3(lessThanEqual(value.rgb, vec3(0.0031308)))), value.a); }
vec4 linearToOutputTexel(vec4 value) { return sRGBTransferOETF(value); }
`;

/** What a fragment asks of whoever uses it. */
const ASKED: Readonly<Record<string, string>> = {
  BokehShader: '#define RINGS 3\n#define SAMPLES 4\n',
};
/** What it asks for instead of what its own file says, where that leaves it nothing to do. */
const INSTEAD: Readonly<Record<string, Readonly<Record<string, unknown>>>> = { SSRShader: { MAX_STEP: 24 } };

interface Given {
  readonly fragmentShader?: unknown;
  readonly defines?: Readonly<Record<string, unknown>>;
}

const chunks = ShaderChunk as Readonly<Record<string, string>>;
const included = (text: string): string =>
  text.replace(/^[ \t]*#include <(\w+)>/gm, (line, name: string) =>
    chunks[name] === undefined ? line : included(chunks[name]),
  );

/** Whole fragments of the renderer's examples, their chunks put in. */
export const foreignFragments = async (): Promise<readonly ForeignSource[]> => {
  const folder = join(MODULES, 'three/examples/jsm/shaders');
  const found: ForeignSource[] = [];
  for (const file of readdirSync(folder).sort()) {
    const made = (await import(join(folder, file))) as Readonly<Record<string, Given | undefined>>;
    for (const [name, shader] of Object.entries(made)) {
      if (typeof shader?.fragmentShader !== 'string') continue;
      const defines = Object.entries({ ...shader.defines, ...INSTEAD[name] }).map(
        ([word, value]) => `#define ${word} ${String(value)}\n`,
      );
      const text = included(shader.fragmentShader);
      const before = text.includes('sRGBTransferOETF( in') ? '' : BEFORE;
      found.push({ name, text: `${ASKED[name] ?? ''}${defines.join('')}${before}${text}` });
    }
  }
  return found;
};

const PACKAGES = ['glsl-blend', 'glsl-dither', 'glsl-easings', 'glsl-hsl2rgb', 'glsl-noise', 'glsl-worley'];

/** Functions of small packages, those that import others left out. */
export const foreignFunctions = (): readonly ForeignSource[] =>
  PACKAGES.flatMap((folder) =>
    readdirSync(join(MODULES, folder), { recursive: true, encoding: 'utf8' })
      .filter((file) => file.endsWith('.glsl') && !/node_modules|test|demo|example/.test(file))
      .sort()
      .map((file) => ({ name: `${folder}/${file}`, text: readFileSync(join(MODULES, folder, file), 'utf8') }))
      .filter(({ text }) => !/glslify:[^\n]*require/.test(text) && /\)\s*\{/.test(text)),
  );
