import type { Patch } from '../document/patch.ts';
import type { Part, PartOf } from '../document/project.ts';
import type { Parameter, ParameterValue } from '../document/shader.ts';
import type { PartChange } from './changeParts.ts';

/**
 * Lets a parameter be driven from 0 to 1 between two of its values: these become its ends, and what it stands at is
 * carried over, in its default, every material, every preset and every guarantee.
 * @returns the changes, or a sentence on why it is not done
 */
export const driveRange = (
  parts: readonly Part[],
  shader: PartOf<'shader'>,
  parameter: Parameter,
  [from, to]: readonly [number, number],
): readonly PartChange[] | string => {
  const { id, kind, name, scope, ends: [low, high] = [0, 1] } = parameter;
  if (kind !== 'float') return `Only a float can be driven from 0 to 1 between ends, not a ${kind}.`;
  if (scope === 'shared') return `${name} is shared by every shader that names it; its range is theirs too.`;
  if (!(Math.abs(to - from) > 1e-6)) return 'These ends are the same; nothing lies between them.';
  const figure = (x: number): number => Number(x.toPrecision(6));
  const carried = ([x]: ParameterValue): ParameterValue => [
    Math.min(Math.max(figure((x! - from) / (to - from)), 0), 1),
  ];
  // What had ends goes from 0 to 1 already: the new ones lie between those.
  const endAt = (x: number): number => figure(low + (high - low) * x);
  const driven: Parameter = {
    ...{ ...parameter, default: carried(parameter.default), min: 0, max: 1, unit: '' },
    ends: [endAt(from), endAt(to)],
  };
  // What is guaranteed at a value is guaranteed where that value is now.
  const guarantees = (shader.body.guarantees ?? []).map((each) =>
    each.parameter === parameter.id && each.at !== undefined
      ? { ...each, at: figure((each.at - from) / (to - from)) }
      : each,
  );
  const at = shader.body.parameters.findIndex((each) => each.id === parameter.id);
  const materials = parts.flatMap((part): PartChange[] => {
    if (part.kind !== 'material' || part.body.shader !== shader.id) return [];
    const patches: Patch[] = [];
    const own = part.body.values[id];
    if (own) patches.push({ op: 'replace', path: ['values', id], value: carried(own) });
    part.body.presets?.forEach(({ values }, i) => {
      const kept = values[id];
      if (kept) patches.push({ op: 'replace', path: ['presets', i, 'values', id], value: carried(kept) });
    });
    return patches.length ? [{ op: 'change', id: part.id, patches }] : [];
  });
  return [
    {
      ...{ op: 'change', id: shader.id },
      patches: [
        { op: 'replace', path: ['parameters', at], value: driven },
        ...(guarantees.length ? [{ op: 'replace' as const, path: ['guarantees'], value: guarantees }] : []),
      ],
    },
    ...materials,
  ];
};
