import type { Part } from '#core/document/project.ts';

/** A part as it stands in this browser and not yet on the server. */
export type Draft = Pick<Part, 'id' | 'kind' | 'name' | 'revision' | 'body'> & {
  /** The tab it was changed in. */
  readonly tab: string;
  /** What was sent of it and not answered yet. */
  readonly sent?: unknown;
};

const prefix = (project: string) => `wicked-veil.draft.${project}.`;
const keyOf = (project: string, tab: string, part: string) => `${prefix(project)}${tab}.${part}`;

/**
 * Keeps an unsaved part in this browser, so that a closed tab loses nothing. Each tab keeps its own.
 * @returns false when the browser's storage is full or shut
 */
export const keepDraft = (project: string, tab: string, part: Part, sent?: unknown): boolean => {
  try {
    const draft = { ...part, tab, ...(sent === undefined ? {} : { sent }) };
    localStorage.setItem(keyOf(project, tab, part.id), JSON.stringify(draft));
    return true;
  } catch {
    return false;
  }
};

export const dropDraft = (project: string, tab: string, part: string): void => {
  try {
    localStorage.removeItem(keyOf(project, tab, part));
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
          const whole =
            draft &&
            typeof draft.id === 'string' &&
            typeof draft.tab === 'string' &&
            Number.isInteger(draft.revision);
          return whole ? [draft] : [];
        } catch {
          return [];
        }
      });
  } catch {
    return [];
  }
};
