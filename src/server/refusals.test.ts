import assert from 'node:assert/strict';
import { mock, test } from 'node:test';
import { ApiError, isDatabaseAway, notFound, respond, toApiError } from './errors.ts';
import { allowSave } from './pace.ts';

const savesAt = (project: string, now: number): number => {
  let taken = 0;
  try {
    for (; taken < 1000; taken += 1) allowSave(project, now);
  } catch (error) {
    assert.ok(error instanceof ApiError);
    assert.equal(error.status, 429);
  }
  return taken;
};

test('a project may save in a burst, then at a pace it earns; another is not held back by it', () => {
  assert.equal(savesAt('velvet', 0), 240);
  assert.equal(savesAt('velvet', 0), 0);
  assert.equal(savesAt('velvet', 1000), 120);
  assert.equal(savesAt('boards', 1000), 240);
  assert.equal(savesAt('velvet', 3_600_000), 240);
});

test('an answer or a refusal is JSON with its status, and a pause says how long', async () => {
  const good = await respond(() => Promise.resolve({ id: 'p' }), 201);
  assert.deepEqual([good.status, await good.json()], [201, { id: 'p' }]);
  const missing = await respond(() => Promise.reject(notFound('The part “rim”')));
  assert.deepEqual(
    [missing.status, await missing.json()],
    [404, { code: 'not-found', message: 'The part “rim” does not exist.' }],
  );
  const held = await respond(() => Promise.reject(new ApiError(429, 'too-often', 'Wait.')));
  assert.equal(held.headers.get('retry-after'), '1');
});

test('a database that is away is told from one that said no, and what was not foreseen stays on the server', async () => {
  for (const error of [
    { code: 'ECONNREFUSED' },
    { code: '57P01' },
    { message: 'Connection terminated unexpectedly' },
  ])
    assert.ok(isDatabaseAway(error), JSON.stringify(error));
  assert.equal(isDatabaseAway({ code: '23505', message: 'duplicate key' }), false);
  assert.equal(toApiError({ code: '57P03' }).status, 503);
  // “Nothing was changed” is said only where that is known.
  assert.match(toApiError({ code: 'ECONNREFUSED' }).message, /nothing was changed/);
  assert.doesNotMatch(toApiError({ code: 'ECONNRESET' }).message, /nothing was changed/);
  assert.deepEqual(
    [toApiError({ name: 'KnexTimeoutError' }).code, toApiError({ code: '57014' }).code],
    ['too-busy', 'too-busy'],
  );
  const logged = mock.method(console, 'error', () => undefined);
  const answer = await respond(() => Promise.reject(new Error('password=moth at /srv/stage.ts')));
  const said = await answer.text();
  logged.mock.restore();
  assert.equal(answer.status, 500);
  assert.doesNotMatch(said, /moth|srv/);
  assert.equal(logged.mock.callCount(), 1);
});
