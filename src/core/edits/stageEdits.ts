import type { Edit } from '../document/patch.ts';

/** Names the script that plays in a set. */
export const setScript = (part: string, script: string): Edit => ({
  label: 'Choose the script',
  part,
  patches: [{ op: 'add', path: ['script'], value: script }],
});
