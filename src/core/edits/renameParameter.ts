import type { Part, PartOf, TakeDocument } from '../document/project.ts';
import type { Parameter } from '../document/shader.ts';
import type { PartChange } from './changeParts.ts';
import { changeParameter } from './shaderEdits.ts';

/** Rewrites a script whose materials' parameter has another name. */
export type RenameInScript = (
  source: string,
  materials: ReadonlySet<string>,
  names: readonly [before: string, after: string],
) => string;

/** A take with a parameter of some materials under its new name. Its digests are of the old name, so they are dropped. */
const renamedTake = (take: TakeDocument, materials: ReadonlySet<string>, before: string, after: string) => {
  const keys = new Map([...materials].map((id) => [`${id} ${before}`, `${id} ${after}`]));
  const inputs = take.inputs.map((each) =>
    each.parameter === before && materials.has(each.material ?? '') ? { ...each, parameter: after } : each,
  );
  // Digests are of all numbers up to their marks.
  const first = take.marks.findIndex(({ values }) => Object.keys(values).some((key) => keys.has(key)));
  const marks = take.marks.map((mark, i) =>
    first >= 0 && i >= first
      ? {
          ...{ ...mark, digest: '' },
          values: Object.fromEntries(
            Object.entries(mark.values).map(([key, value]) => [keys.get(key) ?? key, value]),
          ),
        }
      : mark,
  );
  const isSame = first < 0 && inputs.every((each, i) => each === take.inputs[i]);
  return isSame ? null : { inputs, marks };
};

/**
 * Changes a parameter; where it has another name, what refers to it by name follows: the shader's expressions, scripts,
 * takes, and its value among the shared ones, which stays there for other shaders that share the old name.
 */
export const renameParameter = (
  parts: readonly Part[],
  shader: PartOf<'shader'>,
  parameter: Parameter,
  inScript: RenameInScript,
): readonly PartChange[] => {
  const before = shader.body.parameters.find((each) => each.id === parameter.id)!;
  const { name } = parameter;
  const { patches } = changeParameter(shader.id, shader.body, parameter);
  const own: PartChange = { op: 'change', id: shader.id, patches };
  if (before.name === name) return [own];
  const materials = parts.filter((each) => each.kind === 'material' && each.body.shader === shader.id);
  const [ids, names] = [new Set(materials.map(({ id }) => id)), new Set(materials.map((each) => each.name))];
  const isSharedElsewhere = parts.some(
    (each) =>
      each.kind === 'shader' &&
      each.id !== shader.id &&
      each.body.parameters.some((one) => one.scope === 'shared' && one.name === before.name),
  );
  const followers = parts.flatMap((part): PartChange[] => {
    const change = (patches: (PartChange & { op: 'change' })['patches']): PartChange[] => [
      { op: 'change', id: part.id, patches },
    ];
    if (part.kind === 'script') {
      const source = inScript(part.body.source, names, [before.name, name]);
      return source === part.body.source ? [] : change([{ op: 'replace', path: ['source'], value: source }]);
    }
    if (part.kind === 'take') {
      const renamed = renamedTake(part.body, ids, before.name, name);
      return renamed
        ? change([
            { op: 'replace', path: ['inputs'], value: renamed.inputs },
            { op: 'replace', path: ['marks'], value: renamed.marks },
          ])
        : [];
    }
    const isShared = part.kind === 'shared' && before.scope === 'shared' && parameter.scope === 'shared';
    if (!isShared || !Object.hasOwn(part.body.values, before.name) || Object.hasOwn(part.body.values, name))
      return [];
    return change([
      { op: 'add', path: ['values', name], value: part.body.values[before.name]! },
      ...(isSharedElsewhere ? [] : [{ op: 'remove' as const, path: ['values', before.name] }]),
    ]);
  });
  return [own, ...followers];
};
