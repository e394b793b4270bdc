import assert from 'node:assert/strict';
import { test } from 'node:test';
import { sketchShader } from '#core/document/sketch.ts';
import { lowerShader } from '#core/lower/lowerShader.ts';
import { makeMesh, type MeshRecipe } from '#core/meshes/makeMesh.ts';
import { createMeshes } from './scene/meshes.ts';
import { createPictureMeshes, isOfUvAlone } from './pictureMeshes.ts';

/** Code that reads a point by itself. */
const CODE = 'float made() {\n  return objectPosition.y;\n}';
const read = (expression: string, strands: Parameters<typeof sketchShader>[0] = {}) => {
  const { program, diagnostics } = lowerShader(sketchShader(strands, { baseColor: expression }), new Map());
  assert.deepEqual(diagnostics, []);
  return program.outputs['baseColor']!;
};

test('a step picture is drawn on few triangles where its value is of uv alone, and only where they cover as much', () => {
  const ofUv = read('vec3(fract(uv * 7.0) + uv2, wave(time) + cameraPosition.x)');
  const ofPlace = read('vec3(uv, normal.x)');
  assert.equal(isOfUvAlone(ofUv), true);
  assert.equal(isOfUvAlone(ofPlace), false);
  assert.equal(
    isOfUvAlone(read('vec3(given)', { given: [{ operator: 'code', arguments: {}, code: CODE }] })),
    false,
  );
  const meshes = createMeshes({ onArrived: () => {}, onMissing: () => {} });
  const triangles = (recipe: MeshRecipe, value: typeof ofUv): number =>
    createPictureMeshes(meshes, recipe)(value).index!.count / 3;
  const cloth: MeshRecipe = { kind: 'cloth', size: [3, 2], divisions: [160, 48], folds: 6, depth: 0.1 };
  assert.equal(triangles(cloth, ofUv), 4 * 4 * 2);
  assert.equal(triangles(cloth, ofPlace), 48 * 48 * 2);
  const ball: MeshRecipe = { kind: 'sphere', radius: 1, divisions: [64, 32] };
  assert.equal(triangles(ball, ofUv), 4 * 4 * 2);
  // A mesh that covers less of uv with few triangles shows gaps that one of many has not.
  const holed: typeof meshes.meshFor = (recipe) => {
    const mesh = makeMesh(recipe);
    return mesh.indices.length < 200 ? { ...mesh, indices: mesh.indices.subarray(3) } : mesh;
  };
  const chosen = createPictureMeshes({ ...meshes, meshFor: holed }, ball)(ofUv);
  assert.equal(chosen.index!.count / 3, 48 * 32 * 2);
});
