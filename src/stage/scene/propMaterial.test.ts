import assert from 'node:assert/strict';
import { test } from 'node:test';
import type { DataTexture } from 'three';
import { compileShader } from '#core/compileShader.ts';
import { sketchParameter, sketchShader } from '#core/document/sketch.ts';
import { numbersFor, tablesFor } from '#core/time/values.ts';
import { createPropMaterial, type CameraFrame } from './propMaterial.ts';

const ahead: CameraFrame = { position: [0, 0, 5], right: [1, 0, 0], up: [0, 1, 0], back: [0, 0, 1] };

test('a gradient that was dragged to another is freed on the graphics card, and with the material the last of it', () => {
  const dusk = sketchParameter('dusk', 'gradient', [0, 0, 0, 0, 1, 1, 1, 1]);
  const body = sketchShader({}, { baseColor: 'gradientMap(uv.x, dusk)' }, [dusk]);
  const { shader } = compileShader(body, 'dusk', new Map());
  assert.ok(shader);
  const material = createPropMaterial(shader, body.surface, {});
  const freed: DataTexture[] = [];
  const stand = (stops: readonly number[]): DataTexture => {
    const authored = { values: { 'p-dusk': stops }, shared: {} };
    material.setNumbers(
      {
        ...{ parameters: numbersFor([dusk], authored), knobs: shader.knobs, textures: new Map() },
        tables: tablesFor([dusk], authored),
      },
      0,
      ahead,
    );
    const texture = material.surface.uniforms['dusk']!.value as DataTexture;
    texture.addEventListener('dispose', () => freed.push(texture));
    return texture;
  };
  const warm = [0, 1, 0, 0, 1, 1, 1, 0];
  const first = stand(warm);
  assert.equal(stand(warm), first);
  assert.equal(freed.length, 0);
  const second = stand([0, 0, 0, 1, 1, 0, 1, 1]);
  assert.notEqual(second, first);
  assert.ok(freed.length && freed.every((each) => each === first));
  material.dispose();
  assert.ok(freed.includes(second));
});
