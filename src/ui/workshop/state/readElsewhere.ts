import { parsePart } from '#core/document/parsePart.ts';
import type { Part } from '#core/document/project.ts';

const readJson = async (address: string): Promise<unknown> => {
  const response = await fetch(address);
  return response.ok ? ((await response.json()) as unknown) : null;
};

/** What is asked of the server about a project's parts; null where it does not answer, or has no such thing. */
export const createReader = (project: string, read: (address: string) => Promise<unknown> = readJson) => {
  const from = async <T>(path: string): Promise<T | null> =>
    (await read(`/api/projects/${project}/${path}`).catch(() => null)) as T | null;
  const pathOf = (id: string): string => `parts/${encodeURIComponent(id)}`;
  return {
    /** The newest revision of each part, by id. */
    revisions: () => from<Readonly<Record<string, number>>>('revisions'),
    part: async (id: string): Promise<Part | null> => {
      const part = await from<Part>(pathOf(id));
      const body = part && parsePart(part.kind, part.body, { strict: false }).document;
      return part && body ? ({ ...part, body } as Part) : null;
    },
    /** The document of a part at one of its revisions. */
    revision: async ({ id, kind, revision }: Pick<Part, 'id' | 'kind' | 'revision'>) => {
      const found = await from<{ readonly body: unknown }>(`${pathOf(id)}/revisions/${revision}`);
      return found && parsePart(kind, found.body, { strict: false }).document;
    },
  };
};
export type ElsewhereReader = ReturnType<typeof createReader>;
