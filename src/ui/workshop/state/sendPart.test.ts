import assert from 'node:assert/strict';
import { test } from 'node:test';
import type { Part } from '#core/document/project.ts';
import { changeParts } from '#core/edits/changeParts.ts';
import { sendChanges } from './sendChanges.ts';
import { createSender } from './sendPart.ts';

const part = (revision: number, source: string): Part =>
  ({ id: 'curtain', kind: 'script', name: 'Curtain', revision, body: { source } }) as unknown as Part;

interface Asked {
  readonly deed: string;
  readonly revision: number;
  readonly body: { readonly source: string };
}

/** A server that keeps one part, answers a deed it knows as before, and loses replies when told to. */
const createServer = () => {
  const asked: Asked[] = [];
  const deeds = new Map<string, number>();
  let [revision, lost] = [1, false];
  const ask = ((_: string, init: RequestInit) => {
    const request = JSON.parse(init.body as string) as Asked;
    asked.push(request);
    const before = deeds.get(request.deed);
    const stale = before === undefined && request.revision !== revision;
    if (before === undefined && !stale) deeds.set(request.deed, (revision += 1));
    if (lost) return Promise.reject(new TypeError('Failed to fetch'));
    const answer = stale
      ? { message: 'changed', theirs: part(revision, 'theirs') }
      : { revision: before ?? revision };
    return Promise.resolve(new Response(JSON.stringify(answer), { status: stale ? 409 : 200 }));
  }) as unknown as typeof fetch;
  return { ask, asked, lose: (now: boolean) => (lost = now), revision: () => revision };
};
const deeds = () => {
  let n = 0;
  return () => `deed-${(n += 1)}`;
};

test('a save whose reply was lost is asked for again, and is no conflict with itself', async () => {
  const server = createServer();
  const sender = createSender('house', deeds(), server.ask);
  server.lose(true);
  assert.equal((await sender.send(part(1, 'one'))).kind, 'away');
  assert.deepEqual(sender.unanswered('curtain'), { source: 'one' });
  assert.equal((await sender.send(part(1, 'two'))).kind, 'away');
  server.lose(false);
  // What was changed since goes after it, made from what the lost one came to.
  assert.deepEqual(await sender.send(part(1, 'two')), { kind: 'saved', revision: 3 });
  assert.deepEqual(
    server.asked.map((each) => [each.deed, each.revision, each.body.source]),
    [
      ['deed-1', 1, 'one'],
      ['deed-1', 1, 'one'],
      ['deed-1', 1, 'one'],
      ['deed-2', 2, 'two'],
    ],
  );
  assert.equal(server.revision(), 3, 'each was done once');
  assert.equal(sender.unanswered('curtain'), undefined);
});

test('what someone else changed is a conflict, and what was refused is not sent again by itself', async () => {
  const server = createServer();
  const sender = createSender('house', deeds(), server.ask);
  const conflict = await sender.send(part(7, 'mine'));
  assert.equal(conflict.kind, 'conflict');
  assert.equal(sender.unanswered('curtain'), undefined);
  const refusing = createSender('house', deeds(), () =>
    Promise.resolve(new Response(JSON.stringify({ message: 'No.' }), { status: 422 })),
  );
  assert.deepEqual(await refusing.send(part(1, 'x')), { kind: 'refused', message: 'No.' });
  const busy = createSender('house', deeds(), () => Promise.resolve(new Response('<html>', { status: 502 })));
  assert.equal((await busy.send(part(1, 'x'))).kind, 'away');
  assert.deepEqual(busy.unanswered('curtain'), { source: 'x' });
});

test('changes over several parts are asked for again under one deed, and a refusal is said', async () => {
  const before = new Map([['curtain', part(4, 'one')]]);
  const changes = [
    { op: 'change', id: 'curtain', patches: [{ op: 'replace', path: ['source'], value: 'two' }] },
  ] as const;
  const { parts } = changeParts(before, changes);
  const asked: { deed: string; changes: unknown[] }[] = [];
  const answer = (...statuses: readonly number[]) =>
    ((_: string, init: RequestInit) => {
      const status = statuses[asked.length]!;
      asked.push(JSON.parse(init.body as string) as { deed: string; changes: unknown[] });
      if (status === 0) return Promise.reject(new TypeError('Failed to fetch'));
      return Promise.resolve(
        new Response(JSON.stringify({ revisions: [5], message: 'changed' }), { status }),
      );
    }) as unknown as typeof fetch;
  assert.deepEqual(await sendChanges('house', 'deed-1', changes, before, parts, answer(0, 503, 200)), [5]);
  assert.deepEqual(new Set(asked.map((each) => each.deed)), new Set(['deed-1']));
  assert.deepEqual(asked[2]!.changes, [
    { op: 'change', id: 'curtain', name: 'Curtain', revision: 4, body: { source: 'two' } },
  ]);
  asked.length = 0;
  await assert.rejects(sendChanges('house', 'deed-2', changes, before, parts, answer(409)), /changed/);
});
