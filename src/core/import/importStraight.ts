import {
  emptyShader,
  OUTPUTS,
  type OutputName,
  type ShaderDocument,
  type Strand,
} from '../document/shader.ts';
import { printExpression } from '../language/printExpression.ts';
import { childrenOf, type Expression } from '../language/syntax.ts';
import { programType } from '../lower/expression/glslValue.ts';
import type { FunctionSource, Module, Statement } from '../language/glsl/syntax.ts';
import { LIGHTING } from '../emit/glsl/lighting.ts';
import { isInput } from '../program/inputs.ts';
import { freeName } from './freeName.ts';
import { importUniforms } from './importUniforms.ts';
import { renameIn } from './renameIn.ts';

/** What generated source declares for itself: whoever draws gives it. */
const OWN_UNIFORMS: ReadonlySet<string> = new Set([
  ...['lightCount', 'lightPosition', 'lightColor', 'ambientUp', 'ambientDown'],
  ...['modelMatrix', 'viewMatrix', 'projectionMatrix', 'resolution', 'boundsLow', 'boundsHigh', 'timeStep'],
  ...['instanceAge', 'instanceOrder', 'instanceSeed', 'sceneDepthMap', 'sceneColorMap'],
  ...['surfaceDistanceMap', 'surfaceDistanceFrame', 'lifetime'],
]);

const callsIn = (e: Expression): string[] => [
  ...(e.kind === 'call' ? [e.callee] : []),
  ...childrenOf(e).flatMap(callsIn),
];

/** Operators that read the scene behind a surface, by how its maps are read, and what fills their four numbers up. */
const SCENE_READS: Readonly<Record<string, readonly [operator: string, ...rest: number[]]>> = {
  'texture sceneDepthMap': ['sceneDepth', 0, 0, 1],
  'texture sceneColorMap': ['sceneColor', 1],
  'textureLod sceneColorMap': ['sceneLevel', 1],
};
const isExpression = (value: unknown): value is Expression =>
  typeof value === 'object' && value !== null && 'kind' in value;
/** An expression in which the scene’s maps, which have no name here, are read by their operators. */
const readingScene = (e: Expression): Expression => {
  const inside = (value: unknown): unknown =>
    Array.isArray(value) ? value.map(inside) : isExpression(value) ? readingScene(value) : value;
  const made = Object.fromEntries(
    Object.entries(e).map(([key, value]) => [key, inside(value)]),
  ) as unknown as Expression;
  if (made.kind !== 'call') return made;
  const [map, ...asked] = made.args;
  const read = map?.kind === 'name' ? SCENE_READS[`${made.callee} ${map.name}`] : undefined;
  if (!read || !asked.length) return made;
  const [operator, ...rest] = read;
  const { from, to } = made;
  const numbers = rest.map((value): Expression => ({ kind: 'literal', type: 'float', value, from, to }));
  return { ...made, callee: 'vec4', args: [{ ...made, callee: operator, args: asked }, ...numbers] };
};

/** A helper and the helpers it calls, in the order they stand. */
const neededBy = (names: readonly string[], module: Module, text: string): FunctionSource[] => {
  const known = new Set(module.functions.map((each) => each.name));
  const found = new Set<FunctionSource>();
  const visit = (name: string) => {
    for (const fn of module.functions) {
      if (fn.name !== name || found.has(fn)) continue;
      found.add(fn);
      const body = text.slice(fn.bodyAt.from, fn.bodyAt.to);
      for (const other of known) if (new RegExp(`\\b${other}\\s*\\(`).test(body)) visit(other);
    }
  };
  names.forEach(visit);
  return module.functions.filter((each) => found.has(each));
};

interface Line {
  readonly name: string;
  readonly type: string;
  readonly value: Expression;
}

/** The statements of a main that only declares one value after another, up to its surface; null where it does more. */
const linesOf = (body: readonly Statement[]): Line[] | null => {
  const lines: Line[] = [];
  for (const statement of body) {
    if (statement.kind === 'declaration') {
      if (statement.names.length !== 1) return null;
      const [only] = statement.names;
      if (!only!.value || only!.brackets || !programType(statement.type.name)) return null;
      lines.push({ name: only!.name, type: statement.type.name, value: readingScene(only!.value) });
      continue;
    }
    const isTail =
      (statement.kind === 'if' && statement.yes.kind === 'discard') ||
      (statement.kind === 'expression' && statement.expression.kind === 'assignment');
    if (!isTail) return null;
  }
  return lines;
};

/** Notes on strands, as our source writes them: `// order: who burns first`. */
const notesIn = (text: string): Map<string, string> =>
  new Map([...text.matchAll(/^\s*\/\/ (\w+): (.*)$/gm)].map((each) => [each[1]!, each[2]!]));

/**
 * Reads back a fragment that this workshop wrote: a strand for each value of its main, the surface's outputs as they
 * were. Null for a fragment of any other making.
 */
export const straightShader = (
  text: string,
  module: Module,
  main: FunctionSource,
): { readonly document: ShaderDocument; readonly notes: readonly string[] } | null => {
  if (!/^\s*\/\/ surface$/m.test(text.slice(main.bodyAt.from, main.bodyAt.to))) return null;
  const lines = linesOf(main.body);
  const color = lines?.find((each) => each.name === 'color');
  if (!lines || !color) return null;
  const lit = text.includes(LIGHTING.slice(LIGHTING.indexOf('vec3 lightSurface'), LIGHTING.indexOf('{')));
  const notes = notesIn(text);
  const renames = new Map<string, string>();
  const taken = new Set<string>();
  const lifetime = module.globals.find((each) => each.names[0]?.name === 'lifetime');
  const setting = { text, module, taken, renames, used: new Set<string>(), isRead: () => true };
  const { parameters: found, declared } = importUniforms(setting, OWN_UNIFORMS);
  // Such uniforms are never ours: the source was changed since.
  if (declared.length) return null;
  const parameters = [...found];
  const vectors = lifetime
    ? new Set([...text.matchAll(/\blifetime\[(\d+)\]/g)].map((each) => Number(each[1])))
    : new Set<number>();
  vectors.delete(Number(/uniform vec4 lifetime\[(\d+)\]/.exec(text)?.[1] ?? -1));
  for (const i of vectors)
    parameters.push({
      ...{
        id: `p-lifetime${i}`,
        name: `lifetime${i}`,
        kind: 'vec4',
        default: [0, 0, 0, 0],
        min: 0,
        max: 1,
        unit: '',
      },
      ...{ group: 'Lifetime', description: 'Four of the lifetime’s numbers.', scope: 'lifetime' as const },
    });
  const settle = (source: string) =>
    renameIn(
      source.replace(/\blifetime\[(\d+)\]/g, 'lifetime$1').replace(/\bgl_FrontFacing\b/g, 'frontFacing'),
      renames,
    );

  const strands: Strand[] = [];
  const outputs: Partial<Record<OutputName, string>> = {};
  const own = new Set(module.functions.map((each) => each.name));
  const addStrand = (name: string, type: string, value: Expression): string => {
    const free = freeName(name, taken);
    taken.add(free);
    if (free !== name) renames.set(name, free);
    const helpers = neededBy(
      callsIn(value).filter((each) => own.has(each)),
      module,
      text,
    );
    const spelled = settle(printExpression(value));
    const id = `s-${free}`;
    const step = helpers.length
      ? {
          ...{ id: `${id}-1`, operator: 'code', arguments: {} },
          code: `${helpers.map((each) => text.slice(each.from, each.to)).join('\n\n')}\n\n${type} ${freeName(`${free}Value`, own)}() {\n  return ${spelled};\n}`,
        }
      : { id: `${id}-1`, operator: 'value', arguments: { x: spelled } };
    strands.push({ id, name: free, note: notes.get(name) ?? '', steps: [step] });
    return free;
  };
  for (const { name, type, value } of lines) {
    if (isInput(name) || name === 'color') continue;
    if (!Object.hasOwn(OUTPUTS, name)) {
      addStrand(name, type, value);
      continue;
    }
    const helpers = callsIn(value).some((each) => own.has(each));
    outputs[name as OutputName] = helpers
      ? addStrand(`${name}Value`, type, value)
      : settle(printExpression(value));
  }
  const lighting = color.value.kind === 'binary' ? color.value.left : color.value;
  const normal =
    lighting.kind === 'call' && lighting.callee === 'lightSurface' ? lighting.args[4] : undefined;
  if (normal && !(normal.kind === 'name' && normal.name === 'normal')) {
    const helpers = callsIn(normal).some((each) => own.has(each));
    outputs.normal = helpers ? addStrand('normalValue', 'vec3', normal) : settle(printExpression(normal));
  }
  const cutout = main.body.some((each) => each.kind === 'if');
  const blended = /fragColor\s*=\s*vec4\(color,\s*opacity\)/.test(text);
  return {
    notes: blended
      ? ['Source does not tell a blended surface from an added one; it is taken as blended.']
      : [],
    document: {
      ...emptyShader(),
      parameters,
      strands,
      surface: {
        ...{ lit, sides: 'both', depthWrite: !blended },
        alphaMode: cutout ? 'cutout' : blended ? 'blended' : 'opaque',
        outputs,
      },
    },
  };
};
