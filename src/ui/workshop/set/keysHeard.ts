import type { StageDocument } from '#core/document/project.ts';
import { keyName } from '../cues/startWords.ts';

/** What a set listens to, and what that does where it is told: “E kindle”. */
export const keysHeard = (
  { cues = [], flourishes = [] }: Pick<StageDocument, 'cues' | 'flourishes'>,
  source: string,
): readonly string[] => {
  const heard = new Map<string, string>();
  for (const [, code] of source.matchAll(/\bonKey\(\s*['"`](\w+)['"`]/g)) heard.set(keyName(code!), '');
  for (const [, code] of source.matchAll(/\bisHeld\(\s*['"`](\w+)['"`]/g)) heard.set(keyName(code!), '');
  if (/\bonClick\(/.test(source)) heard.set('click', '');
  for (const { name, starts, off } of [...cues, ...flourishes])
    for (const start of off ? [] : starts) {
      const key =
        start.by === 'key' && start.key ? keyName(start.key) : start.by === 'click' ? 'click' : null;
      if (key !== null) heard.set(key, [heard.get(key), name].filter(Boolean).join(', '));
    }
  return [...heard].map(([key, does]) => (does ? `${key} ${does}` : key));
};
