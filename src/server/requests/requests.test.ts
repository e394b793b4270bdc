import assert from 'node:assert/strict';
import { test } from 'node:test';
import { ApiError } from '../errors.ts';
import { LARGEST_BODY, readBody, type Shape } from './read.ts';
import { NameRequest, NewPartRequest, SavePartRequest } from './shapes.ts';

const request = (body: string): Request => new Request('http://playhouse.test/', { method: 'POST', body });
const refusal = async <T extends object>(shape: Shape<T>, body: unknown): Promise<ApiError> => {
  const text = typeof body === 'string' ? body : JSON.stringify(body);
  const error = await readBody(request(text), shape).then(
    () => assert.fail(`${text.slice(0, 80)} was taken`),
    (thrown: unknown) => thrown,
  );
  assert.ok(error instanceof ApiError, String(error));
  return error;
};

const WHOLE = { id: 'ember-edge', kind: 'motif', name: 'Ember edge', body: {} };

test('a request that is whole is taken, with nothing it was not asked for', async () => {
  const part = await readBody(request(JSON.stringify(WHOLE)), NewPartRequest);
  assert.deepEqual({ ...part }, WHOLE);
  const saved = await readBody(
    request(JSON.stringify({ name: 'Velvet', revision: 3, body: { a: [1] } })),
    SavePartRequest,
  );
  assert.deepEqual({ ...saved }, { name: 'Velvet', revision: 3, body: { a: [1] } });
});

test('what is no JSON object is refused before its shape is asked about', async () => {
  for (const [body, said] of [
    ['', /not JSON/],
    ['{"name":', /not JSON/],
    ['[]', /should be a JSON object/],
    ['null', /should be a JSON object/],
    ['"name"', /should be a JSON object/],
  ] as const) {
    const error = await refusal(NameRequest, body);
    assert.equal(error.status, 400, body);
    assert.match(error.message, said);
  }
});

test('a body that is too large is refused whatever is in it', async () => {
  const error = await refusal(NameRequest, `{"name":"${'x'.repeat(LARGEST_BODY)}"}`);
  assert.equal(error.status, 413);
  assert.match(error.message, /larger than 4 MB/);
});

test('each field that is wrong has its sentence, all of them at once', async () => {
  const cases: readonly [Shape<object>, Record<string, unknown>, readonly RegExp[]][] = [
    [NameRequest, {}, [/name should be text/]],
    [NameRequest, { name: '' }, [/name should not be empty/]],
    [NameRequest, { name: 'x'.repeat(121) }, [/at most 120 characters/]],
    [NameRequest, { name: { toString: 'x' } }, [/name should be text/]],
    [SavePartRequest, { name: 'a', revision: 0, body: {} }, [/revision should be 1 or more/]],
    [SavePartRequest, { name: 'a', revision: 1.5, body: {} }, [/revision should be the whole number/]],
    [SavePartRequest, { name: 'a', revision: 1, body: 'x' }, [/body should be the part’s document/]],
    [NewPartRequest, { ...WHOLE, id: '../etc' }, [/id should be letters, digits/]],
    [NewPartRequest, { ...WHOLE, id: 'x'.repeat(65) }, [/at most 64 of them/]],
    [NewPartRequest, { ...WHOLE, kind: 'actor' }, [/kind should be one of .*motif/]],
    [
      NewPartRequest,
      { ...WHOLE, id: '', kind: 7, name: 4, body: [] },
      [/id should be/, /kind should be/, /name should be text/],
    ],
  ];
  for (const [shape, body, wanted] of cases) {
    const error = await refusal(shape, body);
    assert.equal(error.status, 422, JSON.stringify(body).slice(0, 80));
    for (const said of wanted) assert.match(error.message, said);
  }
});
