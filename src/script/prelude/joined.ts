/**
 * What runs inside the sandbox before the authors' scripts and gives each its words: plain JavaScript, as the sandbox
 * reads it, where there are no modules. Its parts stand in one scope, in this order.
 *
 * They are told `__setup`, as JSON: { materials: [{ id, name, parameters: [{ name, kind, value }] }], props: [{ id, name,
 * position, rotation, scale, hidden }], cues: [{ id, name, length }], flourishes: [{ id, name }], seed }; `__nearest(name,
 * namesJson)`; `__place(id)`, which gives a point as JSON, or null; and `__under(slot)`, what a cue or a rule drives a
 * parameter to in this tick, as JSON, or null; and `__enter(script, line)`, told where scripts are as they run.
 */
const PARTS = [
  'host',
  'chance',
  'parameters',
  'things',
  'waiting',
  'cues',
  'words',
  'running',
  'frozen',
] as const;
export type PreludePart = (typeof PARTS)[number];

/** Joins the parts, which each host loads in its own way. The last of them makes what is handed to the host. */
export const joinPrelude = (textOf: (part: PreludePart) => string): string =>
  ['(() => {', "'use strict';", ...PARTS.map(textOf), 'return handed;', '})();'].join('\n');
