import { parsePart } from '#core/document/parsePart.ts';
import type { Part, Project } from '#core/document/project.ts';
import { withBoundMaterials } from '#core/document/valueKeys.ts';

/** A part that is kept and cannot be read: it is left where it is. */
export interface Unreadable {
  readonly name: string;
  readonly kind: string;
  readonly why: string;
}

export interface OpenProject {
  readonly project: Project;
  readonly unreadable: readonly Unreadable[];
}

/** Reads a project as the server keeps it: each part through its kind's reader, which also brings old ones up to date. */
export const readOpenProject = (json: Project): OpenProject => {
  const parts: Part[] = [];
  const unreadable: Unreadable[] = [];
  for (const part of json.parts) {
    const { document, problems } = parsePart(part.kind, part.body, { strict: false });
    if (document) parts.push({ ...part, body: document } as Part);
    else {
      const [first] = problems;
      unreadable.push({
        ...{ name: part.name, kind: part.kind },
        why: first ? `${first.path ? `${first.path}: ` : ''}${first.message}` : 'It cannot be read.',
      });
    }
  }
  return { project: { id: json.id, name: json.name, parts: withBoundMaterials(parts) }, unreadable };
};

/** True where two bodies are the same document, in whatever order their fields stand. */
export const isSameDocument = (kind: Part['kind'], a: unknown, b: unknown): boolean => {
  const plain = (body: unknown) => JSON.stringify(parsePart(kind, body, { strict: false }).document ?? body);
  return plain(a) === plain(b);
};
