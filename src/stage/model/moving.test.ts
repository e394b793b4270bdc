import assert from 'node:assert/strict';
import { test } from 'node:test';
import { Document, NodeIO } from '@gltf-transform/core';
import { AnimationMixer, Matrix4, Quaternion, Vector3, type Mesh as MeshObject } from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import { readGlb, writeGlb } from '#core/meshes/glb.ts';
import { arrive, importedMesh } from '#core/meshes/imported.ts';
import { chanceOf } from '#core/numbers/chance.ts';
import { pointBy } from '#core/numbers/placement.ts';
import { jointAt, poseOf } from '#core/rigs/poseOf.ts';
import { accessorsOf } from './accessors.testing.ts';
import { readModel } from './readModel.ts';

type Bytes = Uint8Array<ArrayBuffer>;
const CORNERS = 12;
let drawn = 0;
const chance = (): number => chanceOf(3, (drawn += 1));
const some = (count: number, size = 1): Float32Array<ArrayBuffer> =>
  Float32Array.from({ length: count }, () => (chance() - 0.5) * size);
const repeated = (one: readonly number[]): Float32Array<ArrayBuffer> =>
  Float32Array.from(Array.from({ length: CORNERS }, () => one).flat());
const turn = (): [number, number, number, number] => {
  const q = [chance() - 0.5, chance() - 0.5, chance() - 0.5, chance() + 0.2];
  return q.map((x) => x / Math.hypot(...q)) as [number, number, number, number];
};

/** A puppet: a limb of three joints with a skin, a lid that a node carries, and a face with two targets. */
const puppet = (): Document => {
  const document = new Document();
  const accessor = accessorsOf(document);
  const wide = (type: 'VEC4' | 'MAT4', numbers: Float32Array<ArrayBuffer> | Uint16Array<ArrayBuffer>) =>
    document.createAccessor().setType(type).setArray(numbers).setBuffer(document.getRoot().listBuffers()[0]!);
  const body = (name: string) =>
    document
      .createPrimitive()
      .setAttribute('POSITION', accessor('VEC3', some(CORNERS * 3, 2)))
      .setAttribute('NORMAL', accessor('VEC3', repeated([0, 0.6, 0.8])))
      .setIndices(
        accessor(
          'SCALAR',
          Uint16Array.from({ length: CORNERS }, (_, i) => i),
        ),
      )
      .setMaterial(document.createMaterial(name));
  const joints = ['hip', 'knee', 'foot'].map((name) =>
    document
      .createNode(name)
      .setTranslation([chance(), chance(), chance()])
      .setRotation(turn())
      .setScale([1 + chance(), 1 + chance() / 2, 1]),
  );
  joints[0]!.addChild(joints[1]!);
  joints[1]!.addChild(joints[2]!);
  const inverse = joints.flatMap(() =>
    new Matrix4()
      .makeRotationFromQuaternion(new Quaternion(...turn()))
      .setPosition(chance(), chance(), 0)
      .toArray(),
  );
  const skin = document.createSkin();
  joints.forEach((joint) => skin.addJoint(joint));
  skin.setInverseBindMatrices(wide('MAT4', Float32Array.from(inverse)));
  const weights = Array.from({ length: CORNERS }, () => {
    const three = [chance(), chance(), chance()];
    const sum = three[0]! + three[1]! + three[2]!;
    return [...three.map((x) => x / sum), 0];
  });
  const limb = body('Limb')
    .setAttribute('JOINTS_0', wide('VEC4', Uint16Array.from(repeated([0, 1, 2, 0]))))
    .setAttribute('WEIGHTS_0', wide('VEC4', Float32Array.from(weights.flat())));
  const face = body('Face');
  for (let k = 0; k < 2; k += 1)
    face.addTarget(
      document.createPrimitiveTarget().setAttribute('POSITION', accessor('VEC3', some(CORNERS * 3))),
    );
  const chest = document
    .createNode('chest')
    .setTranslation([0.3, 1, 0])
    .setRotation(turn())
    .setScale([2, 2, 2]);
  const lid = document
    .createNode('lid')
    .setMesh(document.createMesh().addPrimitive(body('Lid')))
    .setTranslation([0, 1, 0]);
  chest.addChild(lid);
  const head = document
    .createNode('head')
    .setMesh(document.createMesh().addPrimitive(face).setWeights([0.25, 0]));
  chest.addChild(head);
  const limbNode = document
    .createNode('limb')
    .setMesh(document.createMesh().addPrimitive(limb))
    .setSkin(skin);
  document.createScene().addChild(chest).addChild(joints[0]!).addChild(limbNode);

  const clip = (name: string, last: number) => {
    const animation = document.createAnimation(name);
    const times = accessor('SCALAR', Float32Array.of(0, last * 0.4, last));
    const add = (
      node: ReturnType<Document['createNode']>,
      path: 'translation' | 'rotation' | 'scale' | 'weights',
      mode: 'LINEAR' | 'STEP' | 'CUBICSPLINE',
      values: Float32Array<ArrayBuffer>,
    ) => {
      const type = path === 'rotation' ? 'VEC4' : path === 'weights' ? 'SCALAR' : 'VEC3';
      const output = type === 'VEC4' ? wide('VEC4', values) : accessor(type, values);
      const sampler = document
        .createAnimationSampler()
        .setInput(times)
        .setOutput(output)
        .setInterpolation(mode);
      animation
        .addSampler(sampler)
        .addChannel(
          document.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler),
        );
    };
    add(joints[1]!, 'rotation', 'LINEAR', Float32Array.from([...turn(), ...turn(), ...turn()]));
    add(joints[0]!, 'translation', 'CUBICSPLINE', some(27));
    add(
      joints[2]!,
      'scale',
      'STEP',
      Float32Array.from({ length: 9 }, () => 0.5 + chance()),
    );
    add(chest, 'rotation', 'LINEAR', Float32Array.from([...turn(), ...turn(), ...turn()]));
    add(head, 'weights', 'LINEAR', some(6, 2));
  };
  clip('Bow', 1.5);
  clip('Sway', 2);
  return document;
};

const binary = async (document: Document): Promise<Bytes> =>
  (await new NodeIO().writeBinary(document)) as Bytes;
const near = (a: readonly number[], b: readonly number[], what: string): void => {
  assert.equal(a.length, b.length, what);
  a.forEach((x, i) => assert.ok(Math.abs(x - b[i]!) < 2e-5, `${what}: ${i} is ${x}, not ${b[i]}`));
};

test('clips carry skins, nodes and targets where another reader of glTF has them, at every time', async () => {
  const bytes = await binary(puppet());
  const { pieces, notes } = await readModel(new Map([['puppet.glb', bytes]]));
  assert.deepEqual(
    notes.filter((each) => !/has no uv/.test(each)),
    [],
  );
  const gltf = await new GLTFLoader().parseAsync(bytes.slice().buffer, '');
  assert.deepEqual(pieces.map(({ name }) => name).sort(), ['Face', 'Lid', 'Limb']);
  for (const [place, clip] of gltf.animations.entries()) {
    const mixer = new AnimationMixer(gltf.scene);
    mixer.clipAction(clip).play();
    for (const seconds of [0, 0.2, 0.6, 0.61, 1.1, 1.4999]) {
      mixer.setTime(seconds);
      gltf.scene.updateMatrixWorld(true);
      for (const { name, mesh } of pieces) {
        const object = gltf.scene.getObjectByName(
          { Face: 'head', Lid: 'lid', Limb: 'limb' }[name]!,
        ) as MeshObject;
        const expected = Array.from({ length: CORNERS }, (_, i) =>
          object.getVertexPosition(i, new Vector3()).applyMatrix4(object.matrixWorld).toArray(),
        ).flat();
        // As it is kept, and comes back.
        arrive(name, readGlb(writeGlb(mesh)));
        const recipe = { kind: 'imported', blob: name, file: '', triangles: 4 } as const;
        const posed = importedMesh({ ...recipe, pose: { [place]: [seconds, 1] } });
        near([...posed.positions].slice(0, CORNERS * 3), expected, `${name} of ${clip.name} at ${seconds}`);
      }
      const { rig } = pieces.find(({ name }) => name === 'Limb')!.mesh.skin!;
      const foot = gltf.scene.getObjectByName('foot')!.localToWorld(new Vector3(0.1, 0.2, 0.3));
      near(
        pointBy(jointAt(rig, 'foot', { [place]: [seconds, 1] })!, [0.1, 0.2, 0.3]),
        foot.toArray(),
        'foot',
      );
    }
    mixer.stopAllAction();
  }
});

test('clips are mixed by their weights; what is left of them is how it stands by itself', async () => {
  const { pieces } = await readModel(new Map([['puppet.glb', await binary(puppet())]]));
  const { rig } = pieces.find(({ name }) => name === 'Face')!.mesh.skin!;
  const weights = (clips: Parameters<typeof poseOf>[1]) => poseOf(rig, clips).weights;
  const [bow, sway] = [weights({ 0: [0.5, 1] }), weights({ 1: [0.7, 1] })];
  near(weights({}), [0.25, 0], 'rest');
  near(
    weights({ 0: [0.5, 0.5] }),
    bow.map((x, i) => x / 2 + [0.25, 0][i]! / 2),
    'half',
  );
  near(
    weights({ 0: [0.5, 1], 1: [0.7, 3] }),
    bow.map((x, i) => x / 4 + (sway[i]! * 3) / 4),
    'shares',
  );
});

test('names outside ASCII leave a kept mesh whole: chunks are padded by bytes, also for another’s reader', async () => {
  const { pieces } = await readModel(new Map([['puppet.glb', await binary(puppet())]]));
  const { mesh } = pieces.find(({ name }) => name === 'Limb')!;
  for (const name of ['Ärmel', 'Är', 'é', '袖', '🎭x', 'Arm']) {
    const { rig } = mesh.skin!;
    const nodes = rig.nodes.map((each, i) => (i ? each : { ...each, name }));
    const bytes = writeGlb({ ...mesh, skin: { ...mesh.skin!, rig: { ...rig, nodes } } });
    assert.equal(bytes.length % 4, 0, name);
    assert.equal(readGlb(bytes).skin!.rig.nodes[0]!.name, name);
    const theirs = await new NodeIO().readBinary(bytes);
    assert.ok(
      theirs
        .getRoot()
        .listNodes()
        .some((each) => each.getName() === name),
      name,
    );
  }
});

test('a kept rig that is wrong is refused in a sentence', async () => {
  const { pieces } = await readModel(new Map([['puppet.glb', await binary(puppet())]]));
  const bytes = writeGlb(pieces.find(({ name }) => name === 'Limb')!.mesh);
  const length = new DataView(bytes.buffer).getUint32(12, true);
  const whyNot = (change: (json: string) => string): string => {
    const json = change(new TextDecoder().decode(bytes.subarray(20, 20 + length))).trimEnd();
    assert.ok(json.length <= length, 'it fits where it was');
    const copy = bytes.slice();
    copy.set(new TextEncoder().encode(json.padEnd(length)), 20);
    try {
      readGlb(copy);
    } catch (error) {
      return (error as Error).message;
    }
    return 'it was taken';
  };
  assert.equal(
    whyNot((json) => json),
    'it was taken',
  );
  assert.match(
    whyNot((json) => json.replace(/"children":\[\d\]/, '"children":[0]')),
    /nodes do not stand on one another/,
  );
  assert.match(
    whyNot((json) => json.replace(/"joints":\[\d+/, (text) => `${text.slice(0, -1)}9`)),
    /bones are not/,
  );
  assert.match(
    whyNot((json) => json.replace('"path":"rotation"', '"path":"hue"')),
    /clips do not tell what they move/,
  );
  assert.match(
    whyNot((json) => json.replace('"interpolation":"CUBICSPLINE"', '"interpolation":"STEP"')),
    /clips have not the keys they tell of/,
  );
});
