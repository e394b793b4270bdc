import { NO_MOTIFS, type Library, type NamedMotif } from '../document/motif.ts';
import {
  emptyShader,
  memberName,
  NOISE_MEMBERS,
  OUTPUT_NAMES,
  OUTPUTS,
  type OutputName,
  type Parameter,
  type ShaderDocument,
  type SurfaceSettings,
} from '../document/shader.ts';
import { coerce } from './coerceInputs.ts';
import { entryPoints } from './entryPoints.ts';
import { createBuilder, type Builder } from '../program/builder.ts';
import {
  attempt,
  lowerStrands,
  readExpression,
  type Diagnostic,
  type Lowering,
  type Names,
} from './lowerStrands.ts';
import { peephole } from '../program/passes/peephole.ts';
import { parameterType } from './stepOperator.ts';
import { pixelOnlyBehind } from '../program/pixelOnly.ts';
import { componentsOf } from '../program/types.ts';
import type { Program, ProgramParameter, Value } from '../program/value.ts';

export { knobName, knobNumbers, type Diagnostic } from './lowerStrands.ts';
export { parameterType } from './stepOperator.ts';

export interface Lowered {
  readonly program: Program;
  /** What each knob stands at: `stepId.input` → numbers. */
  readonly knobs: ReadonlyMap<string, readonly number[]>;
  readonly diagnostics: readonly Diagnostic[];
  /** What is worth knowing and not wrong. */
  readonly notes: readonly Diagnostic[];
}

/** Where surface outputs stand among taps and diagnostics. */
export const SURFACE = 'surface';

const programParameters = (parameters: readonly Parameter[]): ProgramParameter[] =>
  parameters.flatMap(({ name, kind, scope = 'material' }) =>
    kind === 'noise'
      ? NOISE_MEMBERS.map((member) => ({ name: memberName(name, member), type: 'int' as const, scope }))
      : [{ name, type: parameterType(kind), scope }],
  );

/** Parameters as values: one that is driven between ends is brought there, noise has members. */
const parameterNames = (b: Builder, parameters: readonly Parameter[]): Names => {
  const values = new Map<string, Value>();
  const members = new Map<string, ReadonlyMap<string, Value>>();
  for (const { name, kind, ends } of parameters) {
    if (kind === 'noise') {
      members.set(
        name,
        new Map(NOISE_MEMBERS.map((member) => [member, b.parameter('int', memberName(name, member))])),
      );
      continue;
    }
    const plain = b.parameter(parameterType(kind), name);
    values.set(name, ends ? b.add(b.multiply(plain, ends[1] - ends[0]), ends[0]) : plain);
  }
  return { values, members };
};

/** Room for the values of a shader of a few hundred steps. */
const ROOM = 4096;

const startLowering = (library: Library): Lowering => ({
  b: createBuilder(peephole, ROOM),
  library,
  ...{ knobs: new Map(), diagnostics: [], notes: [], taps: [] },
});

/** Turns a document into the typed program, strand by strand, collecting what is wrong with each step. */
export const lowerShader = (document: ShaderDocument, library: Library = NO_MOTIFS): Lowered => {
  const to = startLowering(library);
  const { b } = to;
  const { scope } = lowerStrands(to, document.strands, parameterNames(b, document.parameters));
  const outputs: Partial<Record<OutputName, Value>> = {};
  for (const name of OUTPUT_NAMES) {
    const text = document.surface.outputs[name];
    if (text === undefined) continue;
    const value = attempt(to, { strand: SURFACE, step: name, argument: name }, () =>
      coerce(
        b,
        readExpression(b, text, scope),
        OUTPUTS[name].type,
        { from: 0, to: text.length },
        OUTPUTS[name].label,
      ),
    );
    if (!value) continue;
    // Whatever is authored as a normal is one long where it is lit; zero stays zero.
    const kept = name === 'normal' ? b.normalize(value) : value;
    const pixelOnly = name === 'vertexOffset' ? pixelOnlyBehind(kept) : null;
    if (pixelOnly) {
      const from = pixelOnly.value.origin?.strand;
      to.diagnostics.push({
        ...{ strand: SURFACE, step: name, argument: name, from: 0, to: text.length },
        message: `A vertex offset is worked out before there are pixels, and this reads ${pixelOnly.asks}${from ? ` in ${from}` : ''}, which only a pixel has.`,
      });
      continue;
    }
    outputs[name] = kept;
    to.taps.push({ strand: SURFACE, step: name, label: `${name}Output`, value: kept });
  }
  return finish(to, document.surface, document.parameters, outputs as Record<string, Value>);
};

/** A motif by itself is seen unlit, from both sides. */
export const MOTIF_SURFACE: SurfaceSettings = { ...emptyShader().surface, lit: false, sides: 'both' };

/** A motif by itself, as it is worked on: its inputs stand at their defaults, its first output is shown. */
export const lowerMotif = (motif: NamedMotif, library: Library): Lowered => {
  const to = startLowering(library);
  const { b } = to;
  const own = motif.body.parameters.filter((each) => each.reads === undefined);
  const names = parameterNames(b, own);
  const given = {
    resolve: (name: string) => names.values.get(name) ?? null,
    names: () => names.values.keys(),
  };
  for (const { name, reads, kind } of motif.body.parameters) {
    if (reads === undefined) continue;
    const value = attempt(to, { strand: SURFACE, step: name, argument: name }, () => {
      const { scope } = lowerStrands({ ...to, taps: [] }, [], { values: new Map(), members: new Map() });
      const at = { from: 0, to: reads.length };
      return coerce(
        b,
        readExpression(b, reads, { ...scope, ...given, resolve: scope.resolve }),
        parameterType(kind),
        at,
        name,
      );
    });
    names.values.set(name, value ?? b.parameter(parameterType(kind), name));
  }
  const { scope } = lowerStrands(to, motif.body.strands, names, '', [motif.id]);
  const outputs: Record<string, Value> = {};
  for (const { id, name, expression } of motif.body.outputs) {
    const value = attempt(to, { strand: SURFACE, step: id, argument: name }, () =>
      readExpression(b, expression, scope),
    );
    if (!value) continue;
    to.taps.push({ strand: SURFACE, step: id, label: `${name}Output`, value });
    outputs['baseColor'] ??= asColor(b, value);
  }
  return finish(to, MOTIF_SURFACE, own, outputs);
};

/** Any value as something that can be seen. */
const asColor = (b: Builder, value: Value): Value => {
  const float =
    value.type === 'bool' || value.type === 'int' || value.type === 'uint'
      ? b.convert('float', value)
      : value;
  switch (componentsOf(float.type)) {
    case 1:
      return b.construct('vec3', float);
    case 2:
      return b.construct('vec3', float, b.float(0));
    case 3:
      return float;
    default:
      return b.swizzle(float, 'xyz');
  }
};

const finish = (
  to: Lowering,
  surface: SurfaceSettings,
  parameters: readonly Parameter[],
  outputs: Record<string, Value>,
): Lowered => ({
  program: {
    entries: entryPoints(surface),
    outputs,
    taps: to.taps,
    parameters: programParameters(parameters),
  },
  knobs: to.knobs,
  diagnostics: to.diagnostics,
  notes: to.notes,
});
