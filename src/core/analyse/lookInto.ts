import type { Parameter } from '../document/shader.ts';
import type { Library } from '../document/motif.ts';
import type { PartOf } from '../document/project.ts';
import type { Given } from '../evaluate/points/onMesh.ts';
import { lowerShader, type Lowered } from '../lower/lowerShader.ts';
import { rootsOf } from '../program/value.ts';
import { powersIn } from './checks/negativePower.ts';
import { divisorsIn } from './checks/zeroDivisor.ts';
import { measure } from './measure.ts';
import type { Subject } from './scene.ts';
import { shaderCost } from './shaderCost.ts';
import { tablePictures } from '../taps/evaluatePoints.ts';
import { numbersFor, type Authored } from '../time/values.ts';
import { uvSquare } from './standing.ts';
import type { Worn } from './worn.ts';

/** Numbers a shader is given by a material's values, or by its own defaults where there are none. */
export const givenBy = (
  parameters: readonly Parameter[],
  values: Authored['values'] = {},
  shared: Authored['shared'] = {},
): Given => ({
  parameters: numbersFor(parameters, { values, shared }),
  knobs: new Map(),
  pictures: tablePictures(parameters, { values, shared }),
});

/** A shader at its defaults, on the square of uv. */
export const wornPlainly = (parameters: readonly Parameter[]): Worn => ({
  ...{ material: null, prop: null, standing: uvSquare(), given: givenBy(parameters) },
});

/**
 * Prepares a shader to be checked and measured where it is worn; on the square of uv where it is worn nowhere. What is
 * measured is measured once, as it is first asked for.
 * @returns null of a shader that does not compile: its mistakes are told at their steps
 */
export const lookInto = (shader: PartOf<'shader'>, library: Library, worn: readonly Worn[]): Subject | null =>
  subjectOf(shader, lowerShader(shader.body, library), worn);

/** The same of what was lowered already. */
export const subjectOf = (
  shader: PartOf<'shader'>,
  { program, knobs, diagnostics }: Lowered,
  worn: readonly Worn[],
): Subject | null => {
  if (diagnostics.length) return null;
  const here = (worn.length ? worn : [wornPlainly(shader.body.parameters)]).map((each) => ({
    ...each,
    given: { ...each.given, knobs },
  }));
  const roots = rootsOf(program);
  const together = [
    ...new Set([...roots, ...powersIn(roots).map((each) => each.inputs[0]!), ...divisorsIn(roots)]),
  ];
  return {
    ...{ shader, program, knobs, worn: here, cost: shaderCost(program, knobs) },
    measured: measure(program, shader.body.parameters, here, together),
  };
};
