import { numbers, object, oneOf, text, told, type Read } from './fields.ts';
import type { Reader } from './read.ts';

/** What of a prop, a light or the camera a cue can move, and how many numbers that has. */
export const MOVED = {
  prop: { position: 3, rotation: 3, scale: 3 },
  light: { position: 3, color: 3, intensity: 1 },
  camera: { position: 3, target: 3, fieldOfView: 1 },
} as const;

/** What a track on a prop’s clip drives: seconds into it. @param place the clip’s, among those of its mesh */
export const clipSlot = (place: number): string => `clip-${place}`;
/** The clip’s place; null of what is no clip. */
export const clipIn = (what: string): number | null => {
  const found = /^clip-(\d+)$/.exec(what)?.[1];
  return found === undefined ? null : Number(found);
};

export const target = object({
  kind: oneOf(['parameter', 'prop', 'light', 'camera']),
  of: told(
    text(64),
    'The material part’s id, the prop’s, or the light’s number from 0; of the camera nothing: an empty text.',
  ),
  what: told(
    text(64),
    'The parameter’s id; of a prop position, rotation, scale, or clip- and the place of one of its mesh’s clips, from 0; of a light position, color or intensity; of the camera position, target or fieldOfView.',
  ),
});
/** What a cue or a rule drives. */
export type Target = Read<typeof target>;

/** A thing with a place, by name. */
export const placeName = (
  props: readonly { readonly id: string; readonly name: string }[],
  what: string | undefined,
): string =>
  what === 'pointer' || what === 'walker'
    ? `the ${what}`
    : (props.find((each) => each.id === what)?.name ?? 'what is gone');

/** A thing of the set that has a place now: a prop’s id, or one of these. */
export const placed = told(
  text(64),
  'A prop’s id, or “pointer”: what the pointer is over; or “walker”: who looks.',
);

/** Lengths of a box’s sides, in metres; each from 0 to 1000. */
export const nearBox = told(
  numbers(3),
  'Of nearness: the sides of a box about the other end, in its own space; near is what is inside, or as far from it as `within`. A ball, where it is not told.',
);
/** Says what is wrong with a box. */
export const checkBox = (r: Reader, box: readonly number[] | undefined, path: string): void => {
  if (box?.some((x) => !(x >= 0 && x <= 1000)))
    r.problem(path, `The sides of a box lie between 0 and 1000 metres; these are ${box.join(', ')}.`);
};
