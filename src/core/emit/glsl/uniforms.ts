import { spellType } from './spell.ts';
import { isSampler } from '../../program/types.ts';
import type { Program, Value } from '../../program/value.ts';
import type { LiveLayout } from './liveLayout.ts';
import type { LifetimePacking } from './packLifetime.ts';

/** What a program's parameters are handed over by. */
export interface Handed {
  /** Live source reads packed numbers, a handover the author's own uniforms. */
  readonly live: boolean;
  readonly layout: LiveLayout;
  readonly lifetime: LifetimePacking;
}

/** Uniforms for the parameters among the values, as they are declared; those of a lifetime are packed. */
export const parameterUniforms = (
  program: Program,
  values: readonly Value[],
  { live, layout, lifetime }: Handed,
): string[] => {
  const read = new Set(values.filter((value) => value.op === 'parameter').map((value) => value.payload));
  const declared = program.parameters.filter(
    ({ name, type }) => read.has(name) && (live ? isSampler(type) : !lifetime.reads.has(name)),
  );
  const packed = !live && program.parameters.some(({ name }) => read.has(name) && lifetime.reads.has(name));
  return [
    ...declared.map(({ type, name }) => `${spellType(type)} ${name}`),
    ...(packed ? [`vec4 lifetime[${lifetime.slots}]`] : []),
    ...(live && layout.floats ? [`vec4 live[${layout.floats}]`] : []),
    ...(live && layout.ints ? [`ivec4 liveInt[${layout.ints}]`] : []),
  ];
};

export const declareUniforms = (declarations: readonly string[]): string[] =>
  declarations.map((each) => `uniform ${each};`);

/** The name in a declaration of GLSL: `highp sampler3D map`, `vec4 live[3]`. */
export const declaredName = (declaration: string): string =>
  declaration.split(' ').at(-1)!.replace(/\[.*/, '');
