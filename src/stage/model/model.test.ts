import assert from 'node:assert/strict';
import { test } from 'node:test';
import { Document, NodeIO } from '@gltf-transform/core';
import { readGlb, writeGlb } from '#core/meshes/glb.ts';
import { makeMesh } from '#core/meshes/makeMesh.ts';
import type { Mesh } from '#core/meshes/mesh.ts';
import { tangentsOf } from '#core/meshes/tangents.ts';
import { accessorsOf } from './accessors.testing.ts';
import { withBakerTangents } from './bakerTangents.ts';
import { readModel } from './readModel.ts';

type Bytes = Uint8Array<ArrayBuffer>;
const text = (content: string): Bytes => new TextEncoder().encode(content) as Bytes;
const read = (file: string, bytes: Bytes, ...more: readonly (readonly [string, Bytes])[]) =>
  readModel(new Map([[file, bytes], ...more]));
const whyNot = async (file: string, bytes: Bytes): Promise<string> => {
  try {
    await read(file, bytes);
  } catch (error) {
    return (error as Error).message;
  }
  return 'it was taken';
};

/** A triangle on a node that stands 2 m to the right, twice as large and mirrored in x, of a red metal. */
const sample = (change: (document: Document) => void = () => undefined): Document => {
  const document = new Document();
  const accessor = accessorsOf(document);
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', accessor('VEC3', Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0)))
    .setAttribute('NORMAL', accessor('VEC3', Float32Array.of(0, 0, 1, 0, 0, 1, 0, 0, 1)))
    .setAttribute('TEXCOORD_0', accessor('VEC2', Float32Array.of(0, 0, 1, 0, 0, 0.25)))
    .setIndices(accessor('SCALAR', Uint16Array.of(0, 1, 2)))
    .setMaterial(
      document.createMaterial('Red lead').setBaseColorFactor([0.6, 0.1, 0.05, 1]).setMetallicFactor(1),
    );
  const node = document
    .createNode('Lid')
    .setMesh(document.createMesh().addPrimitive(primitive))
    .setScale([-2, 2, 2])
    .setTranslation([2, 0, 0]);
  const root = document.createNode('Chest').setTranslation([0, 1, 0]).addChild(node);
  document.createScene().addChild(root);
  change(document);
  return document;
};
/** Which way v grows at a triangle, from its corners: the side of u’s right hand that a tangent’s fourth number tells. */
const handOf = ({ uvs, indices }: Mesh, triangle: number): number => {
  const [a, b, c] = [0, 1, 2].map((k) =>
    uvs.subarray(indices[triangle * 3 + k]! * 2, indices[triangle * 3 + k]! * 2 + 2),
  );
  return Math.sign((b![0]! - a![0]!) * (c![1]! - a![1]!) - (b![1]! - a![1]!) * (c![0]! - a![0]!));
};
const binary = async (document: Document): Promise<Bytes> =>
  (await new NodeIO().writeBinary(document)) as Bytes;

test('a glTF stands as it was placed: moved, scaled and mirrored with its front outwards, v upwards, its material told', async () => {
  const { pieces, notes } = await read('chest.glb', await binary(sample()));
  assert.equal(pieces.length, 1);
  const [{ mesh, ...piece }] = pieces as [(typeof pieces)[number]];
  assert.deepEqual(
    [...mesh.positions].map((x) => x + 0),
    [2, 1, 0, 0, 1, 0, 2, 3, 0],
  );
  // Mirrored, it goes round the other way, so that its front is where its normal points.
  assert.deepEqual([...mesh.indices], [0, 2, 1]);
  assert.deepEqual(
    [...mesh.normals.slice(0, 3)].map((x) => Math.round(x) + 0),
    [0, 0, 1],
  );
  assert.deepEqual([...mesh.uvs], [0, 1, 1, 1, 0, 0.75]);
  // Along u, which runs to the left in the mirror; v grows downwards in the file, so here its picture’s up is y.
  assert.deepEqual(
    [...mesh.tangents!.slice(0, 4)].map((x) => x + 0),
    [-1, 0, 0, handOf(mesh, 0)],
  );
  assert.deepEqual(
    { ...piece, color: piece.color.map((x) => Math.round(x * 100) / 100) },
    { name: 'Red lead', color: [0.6, 0.1, 0.05], metallic: 1, roughness: 1, picture: null },
  );
  assert.deepEqual(notes, []);
});

test('tangents of a file without any are a baker’s: where its picture is mirrored a corner is two, and plain surfaces agree with what is reckoned by hand', async () => {
  // Two faces of a fold share an edge; the right one's picture is the left one's in a mirror.
  const fold = await read(
    'fold.obj',
    text(
      'v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv 2 0 0\nv 2 1 0\nvn 0 0 1\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\n' +
        'f 1/1/1 2/2/1 3/3/1\nf 1/1/1 3/3/1 4/4/1\nf 2/2/1 5/1/1 6/4/1\nf 2/2/1 6/4/1 3/3/1\n',
    ),
  );
  const { mesh } = fold.pieces[0]!;
  for (let triangle = 0; triangle < 4; triangle += 1) {
    const corner = mesh.indices[triangle * 3]!;
    const along = triangle < 2 ? 1 : -1;
    assert.deepEqual([...mesh.tangents!.subarray(corner * 4, corner * 4 + 4)], [along, 0, 0, along]);
    assert.equal(handOf(mesh, triangle), along);
  }
  // A round thing, by the other way of reckoning; the seam and the ends, where weights differ, apart.
  const drum = makeMesh({ kind: 'cylinder', radius: 0.5, taper: 1, height: 2, divisions: [24, 4] });
  const { tangents: plain } = tangentsOf(drum);
  const { tangents: baked } = withBakerTangents(drum);
  let compared = 0;
  drum.uvs.forEach((u, i) => {
    const isWall = Math.abs(drum.normals[(i / 2) * 3 + 1]!) < 0.5;
    if (i % 2 || !isWall || u < 0.01 || u > 0.99) return;
    compared += 1;
    const at = (i / 2) * 4;
    for (let k = 0; k < 4; k += 1) assert.ok(Math.abs(plain[at + k]! - baked![at + k]!) < 2e-3, `${i / 2}`);
  });
  assert.ok(compared > 100);
});

test('what of a material is not taken is told', async () => {
  const rich = sample((document) => {
    const [material] = document.getRoot().listMaterials();
    const texture = document.createTexture().setImage(new Uint8Array(8)).setMimeType('image/png');
    material!.setAlphaMode('BLEND').setNormalTexture(texture).setEmissiveFactor([1, 0, 0]);
  });
  const { notes } = await read('lamp.glb', await binary(rich));
  assert.deepEqual(notes, ['Red lead: its transparency, its normal picture, its emission left out.']);
});

test('a glTF in several files is read with them, and says which is missing', async () => {
  const { json, resources } = await new NodeIO().writeJSON(sample());
  const [[uri, buffer]] = Object.entries(resources) as [[string, Bytes]];
  const main = text(JSON.stringify(json));
  const { pieces } = await read('chest.gltf', main, [uri, buffer]);
  assert.equal(pieces[0]!.mesh.indices.length, 3);
  assert.match(
    await whyNot('chest.gltf', main),
    new RegExp(`${uri} was not chosen: choose the files it names`),
  );
});

test('what is missing is made up and told; what has no face or no number is left out', async () => {
  const bare = await read(
    'odd.obj',
    text('v 0 0 0\nv 1 0 0\nv 0 0 -1\nv 2 2 2\nf 1 2 3\nf 1 1 2\nf 4 4 4\n'),
  );
  assert.deepEqual(bare.notes, [
    'odd: 2 triangles without a face left out.',
    'odd has no normals; they follow from its triangles.',
    'odd has no uv; it is (0, 0) everywhere.',
  ]);
  assert.deepEqual([...bare.pieces[0]!.mesh.normals.slice(0, 3)], [0, 1, 0]);
  const holed = sample((document) => {
    const [position] = document.getRoot().listAccessors();
    position!.setArray(Float32Array.of(0, 0, 0, 1, 0, 0, 0, NaN, 0));
  });
  assert.match(await whyNot('holed.glb', await binary(holed)), /has no triangle with a face/);
});

test('a wrong model is refused in a sentence, whatever is wrong with it', async () => {
  const good = await binary(sample());
  assert.match(await whyNot('cut.glb', good.slice(0, good.length - 20)), /^cut\.glb cannot be read: /);
  assert.match(await whyNot('cut.glb', good.slice(0, 30)), /^cut\.glb cannot be read: /);
  assert.match(await whyNot('no.glb', text('no glTF at all')), /^no\.glb cannot be read: /);
  assert.match(await whyNot('no.gltf', text('{"asset": ')), /not JSON, or it is cut short/);
  const { json, resources } = await new NodeIO().writeJSON(sample());
  const buffer = Object.values(resources)[0] as Bytes;
  const with_ = (change: (json: Record<string, unknown>) => void): Bytes => {
    const copy = structuredClone(json) as unknown as Record<string, unknown>;
    change(copy);
    (copy['buffers'] as { uri: string }[])[0]!.uri =
      `data:application/octet-stream;base64,${Buffer.from(buffer).toString('base64')}`;
    return text(JSON.stringify(copy));
  };
  assert.equal(
    await whyNot(
      'fine.gltf',
      with_(() => undefined),
    ),
    'it was taken',
  );
  const needing = with_((each) => (each['extensionsRequired'] = ['EXT_puppetry']));
  assert.match(await whyNot('new.gltf', needing), /new\.gltf cannot be read: .*EXT_puppetry/);
  const outside = with_((each) => ((each['accessors'] as { count: number }[])[0]!.count = 5000));
  assert.match(await whyNot('far.gltf', outside), /^far\.gltf cannot be read: /);
  const crowded = sample((document) => {
    const [scene] = document.getRoot().listScenes();
    for (let i = 0; i < 20_001; i += 1) scene!.addChild(document.createNode());
  });
  assert.match(await whyNot('crowd.glb', await binary(crowded)), /has 20,003 nodes; at most 20,000/);
  assert.match(await whyNot('old.obj', Uint8Array.of(0x76, 0x20, 0xff, 0xfe, 0x31)), /not text in UTF-8/);
  assert.match(await whyNot('note.obj', text('a letter')), /no OBJ of a mesh/);
  assert.match(await whyNot('lines.obj', text('v 0 0 0\nv 1 0 0\nl 1 2\n')), /no triangles/);
  assert.match(await whyNot('moon.png', text('x')), /moon\.png is no model; \.glb, \.gltf, \.obj are read/);
  const fine = Array.from({ length: 1001 }, (_, i) => `v ${i} 0 0\nv ${i} 1 0\n`).join('');
  const faces = Array.from({ length: 334_000 }, () => 'f 1 2 3\n').join('');
  assert.match(await whyNot('fine.obj', text(fine + faces)), /too fine: 1,002,000 corners/);
});

test('a mesh is kept as a binary glTF that others read, and comes back as it was; what is wrong with one is said', async () => {
  const mesh = makeMesh({ kind: 'cylinder', radius: 0.4, taper: 0.6, height: 1, divisions: [12, 3] });
  const bytes = writeGlb(mesh);
  const back = readGlb(bytes);
  for (const key of ['positions', 'normals', 'indices'] as const) assert.deepEqual(back[key], mesh[key], key);
  back.uvs.forEach((x, i) => assert.ok(Math.abs(x - mesh.uvs[i]!) < 1e-6));
  assert.deepEqual(writeGlb(mesh), bytes);
  const foreign = (await new NodeIO().readBinary(bytes)).getRoot().listMeshes()[0]!.listPrimitives()[0]!;
  assert.deepEqual(foreign.getAttribute('POSITION')!.getArray(), mesh.positions);
  assert.deepEqual(foreign.getIndices()!.getArray(), mesh.indices);

  const whyNotGlb = (change: (copy: Uint8Array<ArrayBuffer>) => Uint8Array): string => {
    try {
      readGlb(change(bytes.slice()));
    } catch (error) {
      return (error as Error).message;
    }
    return 'it was taken';
  };
  assert.match(
    whyNotGlb((copy) => copy.slice(0, 10)),
    /cut short/,
  );
  assert.match(
    whyNotGlb((copy) => copy.slice(0, -4)),
    /cut short/,
  );
  assert.match(
    whyNotGlb((copy) => copy.fill(0xff, copy.length - 4)),
    /a corner that is not there/,
  );
  const at = 28 + new DataView(bytes.buffer).getUint32(12, true);
  assert.match(
    whyNotGlb((copy) => copy.fill(0xff, at, at + 4)),
    /holds what is no number/,
  );
  assert.match(
    whyNotGlb((copy) => copy.fill(0x20, 20, 60)),
    /not JSON/,
  );
});
