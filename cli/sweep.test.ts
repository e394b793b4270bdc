import assert from 'node:assert/strict';
import { readFileSync, rmSync } from 'node:fs';
import { after, test } from 'node:test';
import { folder, CURTAIN, veil } from './veil.testing.ts';

after(() => rmSync(folder, { recursive: true, force: true }));

test('sweep tells where a curtain is gone, as sentences, as JSON and as CSV, and what cannot be swept', async () => {
  const told = await veil('sweep', CURTAIN, '--of', 'burn', '--from=-0.2', '--to', '1.3');
  assert.match(told.out, /^Nothing shows from 0\.9\d+\.\nNowhere in this range does all of it show\.\n/);
  assert.ok(readFileSync('docs/veil.md', 'utf8').includes(told.out), 'docs/veil.md shows what it answers');
  const json = JSON.parse((await veil('sweep', CURTAIN, '--of', 'burn', '--json')).out) as {
    readonly samples: readonly { readonly share: number }[];
  };
  assert.equal(json.samples.length, 64);
  assert.ok(json.samples[0]!.share > 0.9 && json.samples[63]!.share === 0);
  const rows = (await veil('sweep', CURTAIN, '--of', 'burn', '--samples', '5', '--csv')).out.split('\n');
  assert.equal(rows[0], 'burn,share,brightest,change');
  assert.deepEqual(
    rows.slice(1, 6).map((row) => row.split(',')[0]),
    ['0', '0.25', '0.5', '0.75', '1'],
  );
  assert.match(
    (await veil('sweep', CURTAIN, '--of', 'heat')).err,
    /heat is a color; what is swept is one number/,
  );
});

test('sweep: over two parameters it is a map', async () => {
  const { status, out } = await veil(
    'sweep',
    CURTAIN,
    '--of',
    'burn',
    '--and',
    'edgeWidth',
    '--samples',
    '3',
  );
  assert.equal(status, 0);
  const rows = out.trim().split('\n');
  assert.equal(rows[0], 'burn,edgeWidth,share');
  assert.equal(rows.length, 10);
  assert.match(rows[3]!, /^1,0\.005,0$/);
  assert.equal((await veil('sweep', CURTAIN, '--of', 'burn', '--and', 'heat')).status, 2);
});
