import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { test } from 'node:test';
import { setsOf, type Part, type PartOf } from '#core/document/project.ts';
import { isTable } from '#core/document/shader.ts';
import { currentValue } from '#core/time/values.ts';
import { playhouse } from '#demo/playhouse.ts';
import { createSandbox } from './createSandbox.ts';

const prelude = readFileSync(new URL('./prelude.js', import.meta.url), 'utf8');
const parts = playhouse().parts as unknown as readonly Part[];
const byId = new Map(parts.map((each) => [each.id, each]));
const materials = parts.flatMap((part) => {
  if (part.kind !== 'material') return [];
  const shader = byId.get(part.body.shader) as PartOf<'shader'>;
  const authored = { values: part.body.values, shared: {} };
  const parameters = shader.body.parameters
    .filter((each) => each.kind !== 'texture' && !isTable(each.kind))
    .map((each) => ({ name: each.name, kind: each.kind, value: currentValue(each, authored) }));
  return [{ id: part.id, name: part.name, parameters }];
});

test('every set has a script that moves what stands in it, whatever of its keys is pressed', async () => {
  for (const { name, body } of setsOf({ parts })) {
    const script = byId.get(body.script ?? '');
    assert.equal(script?.kind, 'script', name);
    const { source } = (script as PartOf<'script'>).body;
    const keys = [...source.matchAll(/onKey\('(\w+)'/g)].map((each) => each[1]!);
    const sandbox = await createSandbox({ materials: structuredClone(materials) as never, seed: 1, prelude });
    assert.equal(sandbox.load(source).mistake, null, name);
    const seen = new Map<string, Set<string>>();
    const logs: string[] = [];
    for (let i = 0; i < 240; i += 1) {
      const code = i % 40 === 20 ? keys[((i - 20) / 40) % keys.length] : undefined;
      const ticked = sandbox.tick(code ? [{ kind: 'down', code }] : []);
      assert.equal(ticked.mistake, null, `${name}: ${JSON.stringify(ticked.mistake)}`);
      logs.push(...ticked.logs);
      for (const { material, parameter, value } of ticked.writes) {
        assert.ok(
          body.props.some((each) => each.material === material),
          `${name}: ${material} does not stand there`,
        );
        const key = `${material}.${parameter}`;
        seen.set(key, (seen.get(key) ?? new Set()).add(value.join()));
      }
    }
    assert.ok(
      [...seen.values()].some((values) => values.size > 20),
      `${name} is not moved`,
    );
    assert.ok(!keys.length || logs.length > 0, `${name}: its keys say nothing`);
    sandbox.dispose();
  }
});
