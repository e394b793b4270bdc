import { moveStrand } from '#core/edits/shaderEdits.ts';
import type { Session } from '../state/session.svelte.ts';

/** Moves a strand, as far as it goes. */
const shift = (session: Session, index: number, way: -1 | 1): void => {
  const { id, body } = session.score!;
  const to = index + way;
  if (to >= 0 && to < body.strands.length) session.apply(moveStrand(id, body, index, to));
};

/** Does to a strand what needs nothing but the score. */
export const doToStrand = (
  session: Session,
  index: number,
  what: 'strand-up' | 'strand-down' | 'strand-collapse',
): void => {
  if (what === 'strand-up') return shift(session, index, -1);
  if (what === 'strand-down') return shift(session, index, 1);
  const { id, body } = session.score!;
  const { collapsed } = body.strands[index]!;
  session.apply({
    label: collapsed ? 'Spread strand out' : 'Collapse strand',
    part: id,
    patches: [{ op: 'add', path: ['strands', index, 'collapsed'], value: !collapsed }],
  });
};
