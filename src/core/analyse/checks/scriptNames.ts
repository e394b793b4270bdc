import { thingNames } from '../../document/things.ts';
import { nearestName } from '../../language/nearest.ts';
import type { Check, Found, Scene } from '../scene.ts';

export const scriptNames: Check = {
  name: 'script-names',
  title: 'A script that names what there is not',
  why: 'The rehearsal stops at that line; in a game the value is never set.',
  of: 'set',
  look: ({ scripts, ...scene }) => scripts.flatMap((script) => wrongIn(script, scene)),
};

/** The names in one script that nothing has. */
const wrongIn = (
  script: Scene['scripts'][number],
  { materials, shaders, set }: Omit<Scene, 'scripts'>,
): Found[] => {
  const { part, uses } = script;
  const told = new Set<string>();
  const found = (wrong: string, line: number, message: string, known: readonly string[]): Found[] => {
    if (told.has(wrong)) return [];
    told.add(wrong);
    const near = nearestName(wrong, known);
    const fixed = near ? renamed(part.body.source, wrong, near, line) : null;
    return [
      {
        ...{ part: part.id, place: { kind: 'line', line, name: wrong } },
        message: `${message}${near ? ` The nearest is ${near}.` : ''}`,
        ...(near && fixed !== null
          ? {
              fix: {
                ...{ label: `Write ${near}`, part: part.id },
                patches: [{ op: 'replace', path: ['source'], value: fixed }],
              },
            }
          : {}),
      },
    ];
  };
  const things = set ? (script.things ?? []) : [];
  const missing = things.flatMap(({ kind, name, line }): Found[] => {
    const known = thingNames(set!.body, kind);
    return known.includes(name)
      ? []
      : found(name, line, `Line ${line}: there is no ${kind} “${name}” in ${set!.name}.`, known);
  });
  const wrongNames = uses.flatMap(({ material: name, parameter, line }): Found[] => {
    const material = materials.find((each) => each.name === name);
    const shader = material && shaders.find(({ id }) => id === material.body.shader);
    const known =
      shader?.body.parameters.filter(({ kind }) => kind !== 'texture').map((each) => each.name) ?? [];
    const wrong = material
      ? parameter !== null && shader && !known.includes(parameter)
        ? parameter
        : null
      : name;
    if (wrong === null) return [];
    const message = material
      ? `Line ${line}: ${shader!.name}, which ${name} wears, has no parameter ${wrong}.`
      : `Line ${line}: there is no material “${name}”.`;
    return found(wrong, line, message, material ? known : materials.map((each) => each.name));
  });
  return [...wrongNames, ...missing];
};

/** The source with a name called otherwise, from a line on; a name of words stands in quotes there. */
const renamed = (source: string, from: string, to: string, line: number): string => {
  const word = new RegExp(`(?<![\\w$])${from.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}(?![\\w$])`, 'g');
  return source
    .split('\n')
    .map((text, i) => (i + 1 < line ? text : text.replace(word, () => to)))
    .join('\n');
};
