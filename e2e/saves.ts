import { type APIRequestContext } from '@playwright/test';

export interface Saved {
  readonly id: string;
  readonly revision: number;
  readonly name: string;
  readonly body: { source: string };
}

export const json = (body: unknown) => ({ data: body as object });

export const makeProject = async (
  request: APIRequestContext,
  base = '',
): Promise<{ id: string; script: Saved }> => {
  const made = (await (
    await request.post(`${base}/api/projects`, json({ name: 'Rehearsal room' }))
  ).json()) as {
    id: string;
    parts: Saved[];
  };
  return { id: made.id, script: made.parts.find((part) => part.id === 'script')! };
};

export const asSave = (part: Saved, source: string, revision = part.revision) =>
  json({ revision, name: part.name, body: { ...part.body, source } });
