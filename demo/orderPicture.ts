import { greyPng } from './greyPng.ts';

/** A picture of the playhouse's own making: a whorl that burns from its heart outwards along two arms. */
export const orderPicture = (): Uint8Array =>
  greyPng(128, 8, (x, y) => {
    const [u, v] = [x - 0.5, y - 0.5];
    const radius = Math.hypot(u, v) * 1.414;
    const arms = 0.5 + 0.5 * Math.cos(2 * (Math.atan2(v, u) - radius * 7));
    return Math.min(1, radius * 0.7 + arms * 0.3);
  });
