import type { Prop } from '#core/document/project.ts';
import type { Session } from './session.svelte.ts';

/** The props in hand, as the set has them now. */
export const propsInHand = (session: Pick<Session, 'props' | 'stage'>): readonly Prop[] =>
  session.props.flatMap((id) => session.stage?.body.props.find((each) => each.id === id) ?? []);
