import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { test } from 'node:test';
import { setsOf, type Part, type PartOf } from '#core/document/project.ts';
import { isTable } from '#core/document/shader.ts';
import { remarksOn } from '#core/time/remarksOn.ts';
import { currentValue } from '#core/time/values.ts';
import { playhouse } from '#demo/playhouse.ts';
import { joinPrelude } from './prelude/joined.ts';
import { scriptsPage } from './scriptWords.ts';
import { createTicker } from './createTicker.ts';
import type { RehearsalStart } from './protocol.ts';

const prelude = joinPrelude((part) => readFileSync(new URL(`./prelude/${part}.js`, import.meta.url), 'utf8'));
const parts = playhouse().parts as unknown as readonly Part[];
const byId = new Map(parts.map((each) => [each.id, each]));
const materials = parts.flatMap((part) => {
  if (part.kind !== 'material') return [];
  const shader = byId.get(part.body.shader) as PartOf<'shader'>;
  const authored = { values: part.body.values, shared: {} };
  const parameters = shader.body.parameters
    .filter((each) => each.kind !== 'texture' && !isTable(each.kind))
    .map((each) => ({ name: each.name, kind: each.kind, value: currentValue(each, authored) }));
  return [{ id: part.id, name: part.name, parameters, declared: shader.body.parameters }];
});

const parametersOf = (id: string) => materials.find((each) => each.id === id)?.declared ?? null;

test('every set has a script that moves what stands in it, whatever of its keys is pressed', async () => {
  for (const { name, body } of setsOf({ parts })) {
    const script = byId.get(body.script ?? '');
    assert.equal(script?.kind, 'script', name);
    const { source } = (script as PartOf<'script'>).body;
    const keys = [...source.matchAll(/onKey\('(\w+)'/g)].map((each) => each[1]!);
    const starts = [...(body.cues ?? []), ...(body.flourishes ?? [])].flatMap((each) => each.starts);
    const pressed = [...keys, ...starts.flatMap(({ by, key }) => (by === 'key' && key ? [key] : []))];
    const started = structuredClone(materials) as unknown as RehearsalStart['materials'];
    const ticker = await createTicker({ materials: started, set: structuredClone(body), seed: 1, prelude });
    assert.equal(ticker.load(source).mistakes[0], undefined, name);
    const seen = new Map<string, Set<string>>();
    const logs: string[] = [];
    for (let i = 0; i < 240; i += 1) {
      const code = i % 40 === 20 ? pressed[((i - 20) / 40) % pressed.length] : undefined;
      const ticked = ticker.tick(code ? [{ kind: 'down', code }] : []);
      assert.deepEqual(ticked.mistakes, [], name);
      logs.push(...ticked.logs);
      const { rules, cues, moved, layers } = ticked.driven;
      for (const { layer, slot, age, values } of layers) {
        const key = `${layer} ${slot}`;
        seen.set(key, (seen.get(key) ?? new Set()).add(JSON.stringify([age, ...values])));
      }
      for (const [id, place] of moved.props)
        seen.set(id, (seen.get(id) ?? new Set()).add(JSON.stringify(place)));
      for (const { material, parameter, value } of [...ticked.writes, ...rules, ...cues]) {
        assert.ok(
          body.props.some((each) => each.material === material),
          `${name}: ${material} does not stand there`,
        );
        const key = `${material}.${parameter}`;
        seen.set(key, (seen.get(key) ?? new Set()).add(value.join()));
      }
    }
    assert.deepEqual(remarksOn(body, parametersOf), [], name);
    assert.ok(
      [...seen.values()].some((values) => values.size > 20),
      `${name} is not moved`,
    );
    assert.ok(!keys.length || logs.length > 0, `${name}: its keys say nothing`);
    ticker.dispose();
  }
});

test('the example on the page of scripts rings the thunder sheet where it is clicked, and lets it die', async () => {
  const [, source] = /```js\n([^]*?)```/.exec(scriptsPage())!;
  const set = setsOf({ parts }).find(({ name }) => name === 'Thunder sheet')!.body;
  const started = structuredClone(materials) as unknown as RehearsalStart['materials'];
  const ticker = await createTicker({ materials: started, set: structuredClone(set), seed: 1, prelude });
  assert.deepEqual(ticker.load(source!).mistakes, []);
  const sheet = set.props.find(({ name }) => name === 'Thunder sheet')!.id;
  const hit = { prop: sheet, point: [0.5, 1.25, 0], normal: [0, 0, 1], uv: [0.5, 0.5], distance: 3 } as const;
  const life = started
    .find(({ name }) => name === 'Thunder steel')!
    .parameters.find(({ name }) => name === 'life')!;
  const ages: number[] = [];
  for (let i = 0; i < life.value[0]! * 60 + 10; i += 1) {
    const { writes, mistakes } = ticker.tick(i ? [] : [{ kind: 'click', hit }]);
    assert.deepEqual(mistakes, []);
    for (const { parameter, value } of writes) {
      assert.deepEqual([parameter, ...value.slice(0, 3)], ['first', 0.5, 1.25, 0]);
      ages.push(value[3]!);
    }
  }
  // A second after the click it is a second old; once its life is over it is no ring any more.
  assert.ok(Math.abs(ages[60]! - 1) < 1e-9, `${ages[60]}`);
  assert.equal(ages.at(-1), -1);
  ticker.dispose();
});
