import type { Argument, OutputName, ShaderDocument, Step, Strand } from '#core/document/shader.ts';
import { emptyShader } from '#core/document/shader.ts';
import { OPERATORS } from '#core/operators/catalogue.ts';
import type { Operator, OperatorInput } from '#core/operators/declare.ts';
import { lowerShader } from '#core/lower/lowerShader.ts';
import { createChance } from '../probe.ts';

/** Left out: what needs a picture or a scene, and slopes, which differ between neighbours on purpose. */
const FIT = [...OPERATORS.values()].filter(
  (each) =>
    !Object.values(each.inputs).some((input) => input.type === 'sampler2D') &&
    !['slopes'].includes(each.family) &&
    ![
      'sceneDepth',
      'depthGap',
      'sceneColor',
      'sceneBlurred',
      'sceneLevel',
      'surfaceNearness',
      'slopeRelief',
      'cameraDistance',
    ].includes(each.name),
);

/** GLSL of the kind authors write: branches, loops that may be left, swizzled assignments, calls, matrices. */
const CODE: readonly string[] = [
  'float bend(float x) { float y = x; for (int i = 0; i < 4; i++) { if (y > 0.8) break; y = y * 1.3 + 0.1; } return y; }',
  'vec2 turn(vec2 p) { float c = cos(0.7); float s = sin(0.7); p.xy = mat2(c, s, -s, c) * p; return p; }',
  'float half_(float x) { return x * 0.5; } vec3 tint(vec3 c) { if (c.x > 0.4) { c.yz = c.zy * 0.5; } else c.x += half_(c.y); return c; }',
  'float sum(vec2 p) { ivec2 n = ivec2(floor(p * 4.0)); int k = n.x & 3; float s = 0.0; for (int i = 0; i < 3; ++i) { if ((i + k) % 2 == 0) continue; s += float(i) * 0.25 + p.y; } return s; }',
  'vec3 pick(vec3 v) { int at = v.x > 0.5 ? 1 : 2; v[at] = 0.25; bvec3 low = lessThan(v, vec3(0.5)); return mix(v, v.zxy, low); }',
  'float keep(float x) { return x; } float back(float x) { float a = x * 0.5; float c = keep(a); float d = x * 3.0; for (int i = 0; i < 0; i++) c = keep(d); for (int i = 0; i < int(x * 0.0) && i < 3; i++) c = keep(d); return c + fract(d); }',
  'float count2(int i, float x) { return fract(x + float(i) * 0.125); } float rounds(float x) { for (int i = 0; i < 9; i += 2) x = count2(i, x); for (int i = 6; i > 0; i -= 3) x = count2(i, x); return x; }',
  'float slope(float x) { float strength = x * 0.5; return strength + fwidth(0.25); }',
  'float early(float x) { if (x < 0.2) return 0.1; float y = x * x; if (y > 0.5) return y - 0.5; return sqrt(y); }',
];

export interface RandomShader {
  readonly document: ShaderDocument;
  readonly seed: number;
}

/** A shader that means something, from a seed: the same seed gives the same shader. */
export const randomShader = (seed: number): ShaderDocument => {
  const chance = createChance(seed * 2654435761 + 97);
  const pick = <T>(list: readonly T[]): T =>
    list[Math.min(Math.floor(chance() * list.length), list.length - 1)]!;
  const between = (low: number, high: number) => Number((low + (high - low) * chance()).toFixed(3));
  let ids = 0;

  const number = (input: OperatorInput): number => {
    const [low, high] = [input.min ?? -1, input.max ?? 2];
    const x = between(Math.max(low, -4), Math.min(high, 6));
    return input.type === 'int' ? Math.round(x) : x;
  };
  const expression = (names: readonly string[]): string => {
    const name = pick([
      ...names,
      'uv.x',
      'uv.y',
      'uv',
      'position',
      'normal',
      'strength',
      'tint',
      'count',
      'instanceAge',
      'instanceOrder',
      'float(instanceSeed)',
    ]);
    const shapes = [
      name,
      `${name} * ${between(0.2, 3)}`,
      `${name} + ${between(-1, 1)}`,
      `(${name} - ${between(0, 1)}) / ${between(0.5, 3)}`,
      `mix(${name}, ${between(0, 1)}, ${between(0, 1)})`,
      `${name} > 0.5 ? ${between(0, 1)} : ${between(0, 1)}`,
      `fract(${name})`,
      `min(${name}, ${pick(['uv.x', 'strength', '0.5'])})`,
      `int(${name}) % 3 + count`,
      `vec3(${name}, ${between(0, 1)}, uv.x)`,
      // Corners that GLSL leaves open, and a slope of what never changes in a frame.
      `sqrt(${name} - ${between(0, 1)})`,
      `pow(${name} - ${between(0, 1)}, ${pick(['2.0', '0.5', 'strength', '3.0'])})`,
      `log(abs(${name}) + 0.05) * 0.2`,
      `inversesqrt(${name} + 0.3)`,
      `asin(${name} * 1.5) * 0.3`,
      `float((int(uv.x * 9.0) ${pick(['<<', '>>'])} (count + ${Math.round(between(0, 40))})) & 7) * 0.1`,
      `float(int(uv.y * 20.0 - 10.0) % (count - 1)) * 0.1`,
      `smoothstep(strength, strength, ${name})`,
      `fwidth(strength * 2.0) + ${name}`,
    ];
    return pick(shapes);
  };
  const argument = (input: OperatorInput, names: readonly string[]): Argument | undefined => {
    if (input.type === 'choice') return pick(input.options!);
    const roll = chance();
    if (roll < 0.3) return undefined;
    if (roll < 0.65) {
      const size = { vec2: 2, vec3: 3, vec4: 4 }[input.type as string];
      if (input.type === 'bool') return Math.round(chance());
      return size ? Array.from({ length: size }, () => number(input)) : number(input);
    }
    return expression(names);
  };
  const step = (operator: Operator, names: readonly string[], first: boolean): Step => ({
    id: `s${(ids += 1)}`,
    operator: operator.name,
    arguments: Object.fromEntries(
      Object.entries(operator.inputs).flatMap(([name, input]) => {
        if (name === operator.flow && !first) return [];
        const given = argument(input, names);
        return given === undefined ? [] : [[name, given]];
      }),
    ),
  });
  const codeStep = (names: readonly string[], first: boolean): Step => ({
    id: `s${(ids += 1)}`,
    operator: 'code',
    code: pick(CODE),
    arguments: first ? Object.fromEntries([['x', expression(names)]]) : {},
  });

  let document: ShaderDocument = {
    ...emptyShader(),
    parameters: [
      { ...PLAIN, id: 'p1', name: 'strength', kind: 'float', default: [0.4] },
      { ...PLAIN, id: 'p2', name: 'tint', kind: 'color', default: [0.8, 0.4, 0.2, 0.5] },
      { ...PLAIN, id: 'p3', name: 'count', kind: 'int', default: [1], max: 9 },
    ],
    surface: {
      lit: chance() < 0.5,
      alphaMode: pick(['opaque', 'cutout', 'blended', 'added']),
      sides: 'both',
      depthWrite: true,
      outputs: {},
    },
  };
  const accept = (candidate: ShaderDocument): boolean => {
    if (lowerShader(candidate).diagnostics.length) return false;
    document = candidate;
    return true;
  };
  const strands = 2 + Math.floor(chance() * 3);
  for (let s = 0; s < strands; s += 1) {
    const names = document.strands.map((each) => each.name);
    const strand: Strand = { id: `strand${s}`, name: `strand${s}`, note: '', steps: [] };
    const at = document.strands.length;
    const wanted = 1 + Math.floor(chance() * 4);
    let made = strand;
    for (let tries = 0; made.steps.length < wanted && tries < 40; tries += 1) {
      const first = made.steps.length === 0;
      const next = chance() < 0.15 ? codeStep(names, first) : step(pick(FIT), names, first);
      const grown = { ...made, steps: [...made.steps, next] };
      if (accept({ ...document, strands: [...document.strands.slice(0, at), grown] })) made = grown;
    }
  }
  const outputs: OutputName[] = ['baseColor', 'opacity', 'emission', 'roughness', 'normal', 'vertexOffset'];
  for (const output of outputs)
    for (let tries = 0; tries < 6 && (output === 'baseColor' || chance() < 0.6); tries += 1) {
      const names = document.strands.map((each) => each.name);
      const text = pick([pick([...names, 'uv.x']), expression(names)]);
      const surface = { ...document.surface, outputs: { ...document.surface.outputs, [output]: text } };
      if (accept({ ...document, surface })) break;
    }
  return document;
};

const PLAIN = { min: 0, max: 1, unit: '', group: '', description: '' } as const;

/** Smaller shaders that might fail in the same way: without a strand, a step, an argument or an output. */
export const smallerShaders = (document: ShaderDocument): ShaderDocument[] => {
  const { strands, surface } = document;
  const withStrands = (changed: readonly Strand[]): ShaderDocument => ({ ...document, strands: changed });
  const found = [
    ...strands.map((_, i) => withStrands(strands.filter((__, k) => k !== i))),
    ...strands.flatMap((strand, i) =>
      strand.steps.map((_, k) =>
        withStrands(strands.with(i, { ...strand, steps: strand.steps.filter((__, n) => n !== k) })),
      ),
    ),
    ...strands.flatMap((strand, i) =>
      strand.steps.flatMap((step, k) =>
        Object.keys(step.arguments).map((name) => {
          const { [name]: _, ...rest } = step.arguments;
          const steps = strand.steps.with(k, { ...step, arguments: rest });
          return withStrands(strands.with(i, { ...strand, steps }));
        }),
      ),
    ),
    ...Object.keys(surface.outputs).map((name) => {
      const { [name as OutputName]: _, ...rest } = surface.outputs;
      return { ...document, surface: { ...surface, outputs: rest } };
    }),
  ];
  return found.filter((each) => !lowerShader(each).diagnostics.length);
};
