import type { SetDrive } from '../document/drives.ts';
import type { StageDocument } from '../document/project.ts';
import { placeName } from '../document/targets.ts';
import { formatNumber } from '../numbers/format.ts';

/** A standing rule, in a few words: “Bulb’s place”. */
export const driveWords = ({ by, of, to, period = 1 }: SetDrive, props: StageDocument['props']): string => {
  const name = placeName(props, of);
  switch (by) {
    case 'place':
      return `${name}’s place`;
    case 'distance':
      return `${name} to ${placeName(props, to)}`;
    case 'near':
      return `${name} near ${placeName(props, to)}`;
    case 'wave':
      return `a wave of ${formatNumber(period)} s`;
    case 'spring':
      return `spring · ${name}’s motion`;
  }
};
