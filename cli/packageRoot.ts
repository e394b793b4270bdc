import { readFileSync } from 'node:fs';

/** The folder of package.json, above this file wherever it was put. */
export const packageRoot = (): URL => {
  for (let at = new URL('./', import.meta.url); ; at = new URL('../', at)) {
    try {
      readFileSync(new URL('package.json', at));
      return at;
    } catch (error) {
      if (at.pathname === '/') throw error;
    }
  }
};
