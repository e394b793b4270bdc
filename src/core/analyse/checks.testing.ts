import assert from 'node:assert/strict';
import { FIRST_BUDGETS } from '../document/budgets.ts';
import { newPart, type PartOf, type StageDocument } from '../document/project.ts';
import { applyPatches } from '../document/patch.ts';
import { sketchParameter as parameter, sketchShader } from '../document/sketch.ts';
import type { Parameter, ShaderDocument } from '../document/shader.ts';
import type { Picture } from '../evaluate/points/points.ts';
import { NO_MOTIFS } from '../document/motif.ts';
import { keysIn, thingsIn, usesIn } from '../../script/usesIn.ts';
import { findAll } from './findAll.ts';
import { givenBy, lookInto } from './lookInto.ts';
import type { Scene } from './scene.ts';
import { standingIn, uvSquare } from './standing.ts';
import type { Worn } from './worn.ts';

type Outputs = ShaderDocument['surface']['outputs'];
type Strands = Parameters<typeof sketchShader>[0];
const shaderPart = (body: ShaderDocument) => newPart('shader', 'sh', 'Veil', body) as PartOf<'shader'>;
export const value = (x: string) => [['value', { x }] as const];
export const float = (name: string, min: number, max: number): Parameter =>
  parameter(name, 'float', [(min + max) / 2], { min, max });
export const texture = parameter('tile', 'texture', []);
export const blended = { lit: false, alphaMode: 'blended', depthWrite: false } as const;

export const setPart = (more: Partial<StageDocument> = {}): PartOf<'stage'> =>
  newPart('stage', 'set', 'Wings', {
    ...{ format: 'wicked-veil/stage', version: 1, lights: [], ambientUp: [1, 1, 1], ambientDown: [0, 0, 0] },
    ...{ camera: { position: [0, 0, 4], target: [0, 0, 0], fieldOfView: 40 }, exposure: 1 },
    bloom: { threshold: 1, intensity: 0.5 },
    props: [
      {
        ...{ id: 'cloth', name: 'Cloth', material: 'm', position: [0, 0, 0], rotation: [0, 0, 0] },
        mesh: { kind: 'plane', size: [2, 2], divisions: [4, 4] },
      },
    ],
    ...more,
  } as StageDocument) as PartOf<'stage'>;
const TEXTURE: PartOf<'texture'>['body'] = {
  ...{ format: 'wicked-veil/texture', version: 1, size: [4, 4], repeats: [true, true] },
  ...{ holds: 'numbers', steps: [] },
};
export const material = newPart('material', 'm', 'Gauze', {
  ...{ format: 'wicked-veil/material', version: 2, shader: 'sh', values: {} },
}) as PartOf<'material'>;

export interface Given {
  readonly pictures?: readonly (readonly [string, Picture])[];
  readonly set?: PartOf<'stage'> | null;
  readonly script?: string;
  /** What the texture is made as that the material reads. */
  readonly made?: Partial<PartOf<'texture'>['body']>;
}
export const sceneOf = (
  body: ShaderDocument,
  { pictures = [], set = null, script, made }: Given = {},
): Scene => {
  const part = shaderPart(body);
  const given = givenBy(body.parameters);
  const worn: Worn = {
    material: { id: 'm', name: 'Gauze' },
    prop: set ? { id: 'cloth', name: 'Cloth' } : null,
    standing: (set && standingIn(set.body, 'cloth')) ?? uvSquare(),
    given: { ...given, pictures: new Map([...given.pictures!, ...pictures]) },
  };
  const subject = lookInto(part, NO_MOTIFS, [worn]);
  assert.ok(subject, 'it compiles');
  const played = newPart('script', 'play', 'Play', {
    ...{ format: 'wicked-veil/script', version: 1, source: script ?? '' },
  }) as PartOf<'script'>;
  return {
    ...{ subjects: [subject], set, shaders: [part] },
    materials: [made ? { ...material, body: { ...material.body, made: { [texture.id]: 'tex' } } } : material],
    textures: made
      ? [newPart('texture', 'tex', 'Ripples', { ...TEXTURE, ...made }) as PartOf<'texture'>]
      : [],
    scripts:
      script === undefined
        ? []
        : [{ part: played, uses: usesIn(script), things: thingsIn(script), keys: keysIn(script) }],
    ...{ scripted: new Set(), budget: FIRST_BUDGETS[0]! },
  };
};
export const told = (scene: Scene, check: string) => findAll(scene).filter((each) => each.check === check);

export const found = new Set<string>();
/** One that has the fault and one that has not; where there is a fix, what it leaves has the fault no more. */
export const both = (
  check: string,
  bad: readonly [ShaderDocument, Given?],
  good: readonly [ShaderDocument, Given?],
) => {
  const [body, given] = bad;
  const list = told(sceneOf(body, given), check);
  assert.equal(list.length, 1, `${check}: ${JSON.stringify(list)}`);
  found.add(check);
  const [one] = list;
  assert.ok(one!.message.length > 20 && !/undefined|NaN|object/.test(one!.message), one!.message);
  assert.deepEqual(told(sceneOf(...good), check), [], `${check}, of what is right`);
  if (one!.fix) {
    const { part, patches } = one!.fix;
    if (part === 'sh')
      assert.deepEqual(told(sceneOf(applyPatches(body, patches).document, given), check), []);
    else if (part === 'set') {
      const set = { ...given!.set!, body: applyPatches(given!.set!.body, patches).document };
      assert.deepEqual(told(sceneOf(body, { ...given, set }), check), []);
    } else if (part === 'tex') {
      const { document: made } = applyPatches({ ...TEXTURE, ...given!.made }, patches);
      assert.deepEqual(told(sceneOf(body, { ...given, made }), check), []);
    } else {
      const { source } = applyPatches({ source: given!.script! }, patches).document;
      assert.deepEqual(told(sceneOf(body, { ...given, script: source }), check), []);
    }
  }
  return one!;
};
export const shader = (
  strands: Strands,
  outputs: Outputs,
  parameters: readonly Parameter[] = [],
  settings: object = {},
) => sketchShader(strands, outputs, parameters, settings);
