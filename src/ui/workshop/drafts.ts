import type { Part } from '#core/document/project.ts';

/** A part as it stands in this browser and not yet on the server. */
export type Draft = Pick<Part, 'id' | 'kind' | 'name' | 'revision' | 'body'>;

const prefix = (project: string) => `wicked-veil.draft.${project}.`;

/**
 * Keeps an unsaved part in this browser, so that a closed tab loses nothing.
 * @returns false when the browser's storage is full or shut
 */
export const keepDraft = (project: string, part: Part): boolean => {
  try {
    localStorage.setItem(prefix(project) + part.id, JSON.stringify(part));
    return true;
  } catch {
    return false;
  }
};

export const dropDraft = (project: string, part: string): void => {
  try {
    localStorage.removeItem(prefix(project) + part);
  } catch {
    // Storage that cannot be opened holds no draft.
  }
};

/** The drafts left in this browser; what is no draft any more is passed over. */
export const readDrafts = (project: string): Draft[] => {
  try {
    return Object.keys(localStorage)
      .filter((key) => key.startsWith(prefix(project)))
      .flatMap((key) => {
        try {
          const draft = JSON.parse(localStorage.getItem(key) ?? 'null') as Draft | null;
          return draft && typeof draft.id === 'string' && Number.isInteger(draft.revision) ? [draft] : [];
        } catch {
          return [];
        }
      });
  } catch {
    return [];
  }
};
