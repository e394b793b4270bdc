import { parentsOf } from '../parents.ts';
import { checkCues, cues } from '../cues.ts';
import { documentKind, type DocumentOf } from '../documentKind.ts';
import { checkDrives, drives } from '../drives.ts';
import { checkFlourishes, flourishes } from '../flourishes.ts';
import {
  flag,
  id,
  list,
  number,
  numbers,
  object,
  oneOf,
  optional,
  standing,
  text,
  told,
  type Read,
} from '../fields.ts';
import { mesh } from '../mesh.ts';
import { picture, surroundings } from '../picture.ts';
import { silenced } from '../silenced.ts';

/** Pictures that one texture can be chosen from. */
export const MOST_CHOICES = 16;
const prop = object({
  id,
  name: text(120),
  mesh,
  /** The material part's id. */
  material: id,
  /** Metres, in the world. */
  position: numbers(3),
  /** Degrees about x, then y, then z. */
  rotation: numbers(3),
  /** Along its own axes; 1 where it is not told. */
  scale: optional(numbers(3)),
  parent: optional(told(id, 'The prop it stands on: its place is told from there, and it moves with it.')),
  joint: optional(
    told(
      object({ name: text(120), rest: list(number, 12) }),
      'The joint of that prop’s mesh it hangs on: its place is told from there. `rest` is how the joint stands in that mesh where no clip moves it, as the twelve numbers of a map, column after column.',
    ),
  ),
  faces: optional(
    told(
      oneOf(['camera', 'upright']),
      'Turned to the camera by the stage, wholly or about its upright axis; else as its rotation says.',
    ),
  ),
  /** Not drawn, and not picked. */
  hidden: optional(flag),
  /** Left out of what surfaces before it read behind them. */
  uncopied: optional(flag),
  passable: optional(told(flag, 'The walker goes through it; else it stands on it and is stopped by it.')),
  shadowless: optional(told(flag, 'Throws no shadow.')),
  fieldless: optional(told(flag, 'Not counted where a shader asks how far the nearest surface is.')),
  unsigned: optional(
    told(
      flag,
      'Where its mesh is open and so has no inside: counted there by its distance alone, never below 0. An open mesh that does not say so is not counted.',
    ),
  ),
  drawOrder: optional(
    told(
      number,
      'Of what blends: drawn after what has less, however far it is; 0 where it is not told, and by distance among the same.',
    ),
  ),
  /** Not picked on the stage, and not moved there. */
  locked: optional(flag),
});
export type Prop = Read<typeof prop>;

const choice = object({
  material: told(id, 'The material part’s id.'),
  parameter: told(id, 'The texture parameter’s id.'),
  pictures: list(picture, MOST_CHOICES),
});
/** Pictures that cues choose between for a texture: a key’s number is the place of one, from 0. */
export type Choice = Read<typeof choice>;

const light = object({
  kind: oneOf(['direction', 'point']),
  /** Where a point light is, or where a directional light comes from. */
  position: numbers(3),
  /** Linear. */
  color: numbers(3),
  intensity: number,
  shadow: optional(
    told(
      number,
      'Of the first light: how soft its shadow is, in metres, from 0 to 2; it throws none where this is not told.',
    ),
  ),
});

const frameLayer = object({
  id,
  /** The material part's id; its shader's surface is the frame. */
  material: id,
  off: optional(flag),
});
export type FrameLayer = Read<typeof frameLayer>;

const air = object({
  /** Linear: what is seen where there is nothing but air. */
  color: numbers(3),
  density: told(number, 'The share of light lost a metre, as an exponent; from 0 to 10.'),
});
const environment = object({
  picture: told(
    surroundings,
    'A picture of everything around, twice as wide as high; its middle is at −z, upstage.',
  ),
  /** Degrees it is turned about what is upright. */
  turn: standing(number, 0),
  /** What its light is multiplied by, from 0 to 100. */
  strength: standing(number, 1),
  /** Whether it is seen where nothing stands, and not only lights the set. */
  seen: optional(flag),
});
const pin = object({
  id,
  name: text(120),
  /** The prop's id. */
  prop: id,
  at: told(
    numbers(3),
    'In the mesh’s own space, in metres: the point of the mesh nearest to it is meant, wherever the prop stands and whatever moves it.',
  ),
});
const reference = object({
  id,
  name: text(120),
  picture,
  at: told(
    numbers(2),
    'Where its middle is, as shares of the stage’s width and height, from its upper left.',
  ),
  width: told(number, 'As a share of the stage’s width, from 0.02 to 4.'),
  fade: told(number, 'How much of it is seen, from 0 to 1.'),
});
/** A picture that is looked at beside the set, or over it; it is no part of it. */
export type Reference = Read<typeof reference>;
export const MOST_REFERENCES = 12;
export type Pin = Read<typeof pin>;
export const MOST_PINS = 16;
/** Scripts that may play in a set at once. */
export const MOST_SCRIPTS = 8;

export type Environment = Read<typeof environment>;
export type Air = Read<typeof air>;
export type Light = Read<typeof light>;

export const stage = documentKind({
  name: 'stage',
  version: 1,
  fields: {
    props: list(prop, 500),
    frame: optional({
      ...told(list(frameLayer, 16), 'What is laid over the whole frame, one after another, before bloom.'),
    }),
    pins: optional(told(list(pin, MOST_PINS), 'Points put on props, at which every step is read.')),
    references: optional(
      told(list(reference, MOST_REFERENCES), 'Pictures looked at beside the set; they are not exported.'),
    ),
    lights: list(light, 4),
    /** Linear light from above and from below. */
    ambientUp: numbers(3),
    ambientDown: numbers(3),
    environment: optional(told(environment, 'In place of the light from above and from below.')),
    /** `fieldOfView` is vertical, in degrees. */
    camera: object({ position: numbers(3), target: numbers(3), fieldOfView: number }),
    /** `threshold` is the linear luminance from which light spreads. */
    bloom: object({
      threshold: number,
      intensity: number,
      radius: optional(told(number, 'How much of it spreads on, from 0 to 1; 1 where it is not told.')),
    }),
    air: optional(told(air, 'What lies between the props and the camera; clear where it is not told.')),
    exposure: number,
    toneMapping: optional(
      told(
        oneOf(['filmic', 'neutral', 'none']),
        'How light becomes what is displayed; filmic where it is not told.',
      ),
    ),
    order: optional(told(number, 'Its place among the sets; those without one come last, by name.')),
    cues: optional(cues),
    choices: optional(told(list(choice, 64), 'Pictures that cues choose between, for each texture.')),
    drives: optional(drives),
    flourishes: optional(flourishes),
    silenced: optional(silenced),
    script: optional(told(id, 'The script that plays in the set; the project’s first where none is named.')),
    alsoPlays: optional(
      told(list(id, MOST_SCRIPTS - 1), 'Scripts that play in the set after that one, in this order.'),
    ),
  },
  check: (
    r,
    {
      props,
      lights,
      air,
      bloom,
      environment,
      references = [],
      cues = [],
      choices = [],
      drives = [],
      flourishes = [],
    },
  ) => {
    checkCues(r, cues);
    choices.forEach(({ material, parameter, pictures }, i) => {
      if (!pictures.length) r.problem(`choices[${i}].pictures`, 'There is at least one picture to choose.');
      if (choices.findIndex((each) => each.material === material && each.parameter === parameter) !== i)
        r.problem(`choices[${i}]`, 'There are choices for this texture already.');
    });
    checkDrives(r, drives);
    checkFlourishes(r, flourishes);
    const within = (x: number | undefined, most: number, path: string): void => {
      if (x !== undefined && !(x >= 0 && x <= most))
        r.problem(path, `This should lie between 0 and ${most}, and is ${x}.`);
    };
    lights.forEach((light, i) => within(light.shadow, 2, `lights[${i}].shadow`));
    within(environment?.strength, 100, 'environment.strength');
    within(air?.density, 10, 'air.density');
    within(bloom.radius, 1, 'bloom.radius');
    references.forEach(({ width, fade }, i) => {
      within(fade, 1, `references[${i}].fade`);
      if (!(width >= 0.02 && width <= 4))
        r.problem(`references[${i}].width`, `This should lie between 0.02 and 4, and is ${width}.`);
    });
    const seen = new Set<string>();
    props.forEach((prop, i) => {
      if (seen.has(prop.id)) r.problem(`props[${i}].id`, `Two props have the id “${prop.id}”.`);
      seen.add(prop.id);
      if (prop.scale?.some((x) => x <= 0))
        r.problem(
          `props[${i}].scale`,
          'Each number of a scale should be above 0; a prop that is not to be seen is hidden.',
        );
      if (prop.joint && prop.parent === undefined)
        r.problem(`props[${i}].joint`, 'What hangs on a joint stands on the prop whose joint it is.');
      if (prop.joint && prop.joint.rest.length !== 12)
        r.problem(`props[${i}].joint.rest`, `A map has 12 numbers; there are ${prop.joint.rest.length}.`);
      if (prop.parent === undefined) return;
      if (!props.some((each) => each.id === prop.parent))
        r.problem(`props[${i}].parent`, `There is no prop “${prop.parent}” in this set to stand on.`);
      else if (prop.parent === prop.id || parentsOf(props, prop.id).includes(prop.id))
        r.problem(`props[${i}].parent`, `${prop.name} would stand on itself, by way of what it stands on.`);
    });
  },
});
export type StageDocument = DocumentOf<typeof stage>;
