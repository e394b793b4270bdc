import type { Cue, CueStart } from '#core/document/cues.ts';
import type { StageDocument } from '#core/document/project.ts';
import { placeName } from '#core/document/targets.ts';
import { formatNumber } from '#core/numbers/format.ts';

/** A key's place as a sentence names it: KeyN is N. */
export const keyName = (code: string): string => code.replace(/^(Key|Digit|Arrow)/, '');

/** What starts a cue, in a few words. */
export const startWords = (start: CueStart, { props, cues = [] }: StageDocument): string => {
  switch (start.by) {
    case 'key':
      return start.key ? keyName(start.key) : 'a key that is not told';
    case 'click':
      return start.prop === undefined ? 'a click' : `a click on ${placeName(props, start.prop)}`;
    case 'near':
      return `${placeName(props, start.of)} nears ${placeName(props, start.to)}`;
    case 'away':
      return `${placeName(props, start.of)} leaves ${placeName(props, start.to)}`;
    case 'cue': {
      const name = cues.find((each) => each.id === start.cue)?.name ?? 'a cue that is gone';
      return start.at === undefined ? `after ${name}` : `${name} at ${formatNumber(start.at)} s`;
    }
    case 'begin':
      return 'the beginning';
  }
};

/** How a cue plays, in a few words: “2.4 s, then holds”. */
export const playWords = ({ length, play, after }: Cue): string =>
  `${formatNumber(length)} s, ${
    play === 'looped'
      ? 'over and over'
      : `${play === 'once' ? '' : 'and back, '}then ${after === 'hold' ? 'holds' : 'lets go'}`
  }`;
