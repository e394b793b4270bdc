import { object, oneOf, text, told, type Read } from './fields.ts';

/** What of a prop, a light or the camera a cue can move, and how many numbers that has. */
export const MOVED = {
  prop: { position: 3, rotation: 3, scale: 3 },
  light: { position: 3, color: 3, intensity: 1 },
  camera: { position: 3, target: 3, fieldOfView: 1 },
} as const;

export const target = object({
  kind: oneOf(['parameter', 'prop', 'light', 'camera']),
  of: told(
    text(64),
    'The material part’s id, the prop’s, or the light’s number from 0; of the camera nothing: an empty text.',
  ),
  what: told(
    text(64),
    'The parameter’s id; of a prop position, rotation or scale; of a light position, color or intensity; of the camera position, target or fieldOfView.',
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
