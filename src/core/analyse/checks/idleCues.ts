import { remarksOn, type RehearsalRemark } from '../../time/remarksOn.ts';
import type { Check, Found, Scene } from '../scene.ts';

const layerOf = ({ of }: RehearsalRemark, { set }: Pick<Scene, 'set'>) =>
  set!.body.flourishes?.find(({ id }) => id === of.id)?.layers.find(({ id }) => id === of.layer);

/** The material that a remark is about; null of one about the set. */
const materialOf = (remark: RehearsalRemark, { set }: Scene): string | null => {
  const { of } = remark;
  if (of.kind === 'rule') return set!.body.drives?.find(({ id }) => id === of.id)?.material ?? null;
  if (of.kind === 'flourish') return layerOf(remark, { set })?.material ?? null;
  const cue = set!.body.cues?.find(({ id }) => id === of.id);
  const target = cue?.tracks.find(({ id }) => id === of.track)?.target;
  return target?.kind === 'parameter' ? target.of : null;
};

export const idleCues: Check = {
  name: 'idle-cue',
  title: 'A cue, a rule or a layer that does nothing',
  why: 'It was made for something that was deleted, or is of another kind now; the rehearsal goes on without it.',
  of: 'set',
  look: (scene) => {
    const { set, materials, shaders } = scene;
    if (!set) return [];
    const shaderOf = (id: string) => {
      const material = materials.find((each) => each.id === id);
      return material && shaders.find((each) => each.id === material.body.shader);
    };
    const remarks = remarksOn(set.body, (id) => shaderOf(id)?.body.parameters ?? null);
    return remarks.flatMap((remark): Found[] => {
      const { of, message } = remark;
      const material = materialOf(remark, scene);
      // Of a material whose shader is not looked at, nothing is known.
      const isUnknown =
        material !== null &&
        !shaderOf(material) &&
        (!materials.length || materials.some(({ id }) => id === material));
      if (isUnknown) return [];
      const named = [...(set.body.cues ?? []), ...(set.body.flourishes ?? [])].find(({ id }) => id === of.id);
      const layer = layerOf(remark, scene);
      const who = `The ${of.kind} ${named?.name ?? ''}${layer ? `, ${layer.name}` : ''}`;
      return [
        {
          ...{ part: set.id, place: { kind: 'cue', of: of.track ?? of.layer ?? of.id } },
          message: named ? `${who}: ${message}` : message,
        },
      ];
    });
  },
};
