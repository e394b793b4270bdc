import type { Part, StageDocument } from '#core/document/project.ts';
import { scriptsPlayed } from '#core/document/scriptsPlayed.ts';
import type { Choice } from '#core/document/kinds/stage.ts';
import { isTable, type ParameterValue } from '#core/document/shader.ts';
import { rigOf } from '#core/rigs/rig.ts';
import { currentValue } from '#core/time/values.ts';
import { playedOf, type RehearsedSet } from '#core/time/remarksOn.ts';
import type { RehearsalStart, RehearsedMaterial } from './protocol.ts';

type Given = Pick<Part, 'id' | 'kind' | 'name' | 'body'>;
type Of<K extends Part['kind']> = Extract<Part, { kind: K }>;

/** What of a set is rehearsed. */
const rehearsed = ({ props, lights, camera, ...set }: StageDocument): RehearsedSet => ({
  ...{ props, lights, camera },
  ...playedOf(set),
});

/** The materials of a project as a rehearsal knows them: what each parameter is, and what it stands at. */
const materialsOf = (
  parts: readonly Part[],
  choices: readonly Choice[] = [],
): readonly RehearsedMaterial[] => {
  const shared = parts.find((each): each is Of<'shared'> => each.kind === 'shared')?.body.values ?? {};
  return parts.flatMap((part): RehearsedMaterial[] => {
    if (part.kind !== 'material') return [];
    const shader = parts.find((each) => each.id === part.body.shader);
    if (shader?.kind !== 'shader') return [];
    const { parameters } = shader.body;
    return [
      {
        ...{ id: part.id, name: part.name, declared: parameters },
        others: Object.fromEntries(
          parameters.flatMap((each): [string, ParameterValue][] => {
            if (isTable(each.kind))
              return [[each.name, currentValue(each, { values: part.body.values, shared })]];
            if (each.kind !== 'texture') return [];
            const from = choices.find(
              ({ material, parameter }) => material === part.id && parameter === each.id,
            );
            return [
              [each.name, [Math.max(from?.pictures.indexOf(part.body.pictures?.[each.id] ?? '') ?? 0, 0)]],
            ];
          }),
        ),
        parameters: parameters
          .filter((each) => each.kind !== 'texture' && !isTable(each.kind))
          .map((each) => ({
            ...{ name: each.name, kind: each.kind, shared: each.scope === 'shared' },
            value: currentValue(each, { values: part.body.values, shared }),
          })),
      },
    ];
  });
};

/** The meshes, by their blobs, that others hang on by a joint: where these are is only known with what moves them. */
export const rigsWanted = (props: StageDocument['props']): readonly string[] => {
  const carriers = new Set(props.flatMap(({ joint, parent }) => (joint && parent ? [parent] : [])));
  return [
    ...new Set(
      props.flatMap(({ id, mesh }) => (mesh.kind === 'imported' && carriers.has(id) ? [mesh.blob] : [])),
    ),
  ];
};

/** What a set’s rehearsal begins from, of a project as it stands. */
export const startOf = (given: readonly Given[], set: string | null): Omit<RehearsalStart, 'seed'> => {
  const parts = given as readonly Part[];
  const stage = parts.find((each): each is Of<'stage'> => each.kind === 'stage' && each.id === set);
  return {
    scripts: scriptsPlayed(parts, stage?.body ?? null).map(({ id, name, body }) => ({
      ...{ id, name, source: body.source },
    })),
    materials: materialsOf(parts, stage?.body.choices),
    set: stage ? rehearsed(stage.body) : null,
    rigs: rigsWanted(stage?.body.props ?? []).flatMap((blob) => {
      const rig = rigOf(blob);
      return rig ? [[blob, rig] as const] : [];
    }),
  };
};
