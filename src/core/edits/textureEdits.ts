import type { PartOf } from '../document/project.ts';
import type { Parameter } from '../document/shader.ts';
import { isUsual, samplingHash, type Sampling } from '../document/sampling.ts';
import type { TextureStep } from '../document/kinds/texture.ts';
import type { Edit, Patch } from '../document/patch.ts';
import type { PartChange } from './changeParts.ts';

type Texture = PartOf<'texture'>;

/** Changes a texture itself. @param merge joins a run of changes, such as a drag, to one that is undone at once */
export const changeTexture = (
  texture: Texture,
  label: string,
  change: Partial<Texture['body']>,
  merge?: string,
): Edit => ({
  ...{ label, part: texture.id },
  ...(merge === undefined ? {} : { merge: `texture ${texture.id} ${merge}` }),
  patches: Object.entries(change).map(([field, value]): Patch =>
    value === undefined ? { op: 'remove', path: [field] } : { op: 'add', path: [field], value },
  ),
});

export const setSteps = (
  texture: Texture,
  label: string,
  steps: readonly TextureStep[],
  merge?: string,
): Edit => changeTexture(texture, label, { steps }, merge);

/** Changes one step. */
export const changeStep = (
  texture: Texture,
  id: string,
  label: string,
  change: (step: TextureStep) => TextureStep,
  merge?: string,
): Edit =>
  setSteps(
    texture,
    label,
    texture.body.steps.map((each) => (each.id === id ? change(each) : each)),
    merge === undefined ? undefined : `${id} ${merge}`,
  );

/** Moves a step by a place, as far as it goes. */
export const moveStep = (texture: Texture, id: string, way: -1 | 1): Edit => {
  const { steps } = texture.body;
  const at = steps.findIndex((each) => each.id === id);
  const to = Math.min(Math.max(at + way, 0), steps.length - 1);
  const moved = steps.toSpliced(at, 1).toSpliced(to, 0, steps[at]!);
  return setSteps(texture, 'Move a step', to === at ? steps : moved);
};

/** How a material reads a texture; null where that needs no telling. */
const readsAs = ({ body: { repeats, filter = 'linear', holds, bits } }: Texture): Sampling | null => {
  const sampling: Sampling = {
    ...{ repeats: [repeats[0] ?? true, repeats[1] ?? true], filter },
    // Floats of colour are light already.
    ...(holds === 'numbers' || (holds === 'color' && bits === 32) ? {} : { holds }),
    ...(bits === 16 || bits === 32 ? { bits } : {}),
  };
  return isUsual(sampling) ? null : sampling;
};
/** How a material reads its textures, with those of some names as a texture tells; what there is to change of it. */
const samplingPatches = (
  { body }: PartOf<'material'>,
  names: readonly string[],
  texture: Texture | null,
): readonly Patch[] => {
  const own = texture && readsAs(texture);
  const rest = Object.fromEntries(
    Object.entries(body.sampling ?? {}).filter(([name]) => !names.includes(name)),
  );
  const told = (sampling: Sampling | null | undefined): string => (sampling ? samplingHash(sampling) : '');
  if (names.every((name) => told(body.sampling?.[name]) === told(own))) return [];
  const next = own ? { ...rest, ...Object.fromEntries(names.map((name) => [name, own])) } : rest;
  return [
    Object.keys(next).length
      ? { op: 'add', path: ['sampling'], value: next }
      : { op: 'remove', path: ['sampling'] },
  ];
};

/** A texture that was baked: it and the materials that read it have the new picture, in one deed. */
export const bakedChanges = (
  texture: Texture,
  materials: readonly PartOf<'material'>[],
  sha: string,
  of: string,
): readonly PartChange[] => {
  const readers = materials.flatMap((material): PartChange[] => {
    const names = Object.entries(material.body.made ?? {}).flatMap(([name, id]) =>
      id === texture.id ? [name] : [],
    );
    const stale = names.filter((name) => material.body.pictures?.[name] !== sha);
    const pictures = { ...material.body.pictures, ...Object.fromEntries(stale.map((name) => [name, sha])) };
    const patches: readonly Patch[] = [
      ...(stale.length ? [{ op: 'add' as const, path: ['pictures'], value: pictures }] : []),
      ...(names.length ? samplingPatches(material, names, texture) : []),
    ];
    return patches.length ? [{ op: 'change', id: material.id, patches }] : [];
  });
  const own: PartChange[] =
    texture.body.baked === sha && texture.body.bakedOf === of
      ? []
      : [
          {
            ...{ op: 'change', id: texture.id },
            patches: [
              { op: 'add', path: ['baked'], value: sha },
              { op: 'add', path: ['bakedOf'], value: of },
            ],
          },
        ];
  return [...own, ...readers];
};

/** Lets a texture parameter of a material read a texture that is made, or none of them; it reads what that was baked to last. */
export const readTexture = (
  material: PartOf<'material'>,
  { id, name }: Parameter,
  texture: Texture | null,
): Edit => {
  const { [id]: _, ...made } = material.body.made ?? {};
  const next = texture ? { ...made, [id]: texture.id } : made;
  const baked = texture?.body.baked;
  return {
    label: texture ? `Let ${name} read ${texture.name}` : `Let ${name} read no texture`,
    part: material.id,
    patches: [
      ...(Object.keys(next).length
        ? [{ op: 'add' as const, path: ['made'], value: next }]
        : material.body.made
          ? [{ op: 'remove' as const, path: ['made'] }]
          : []),
      ...(baked
        ? [{ op: 'add' as const, path: ['pictures'], value: { ...material.body.pictures, [id]: baked } }]
        : []),
      ...(texture && baked ? samplingPatches(material, [id], texture) : []),
    ],
  };
};
