// Materials as scripts see them: a parameter is read and set by its name.
const suggestion = (wanted, known) => {
  const near = nearest(String(wanted), JSON.stringify(known));
  return near ? ` Did you mean ${near}?` : known.length ? ` There is ${known.join(', ')}.` : '';
};
const sizes = { float: 1, int: 1, bool: 1, vec2: 2, vec3: 3, vec4: 4, color: 4, noise: 2 };

const read = (kind, value) => (sizes[kind] > 1 ? [...value] : kind === 'bool' ? value[0] !== 0 : value[0]);
const checked = (material, { name, kind }, given) => {
  const numbers = Array.isArray(given) ? given : [typeof given === 'boolean' ? Number(given) : given];
  const size = sizes[kind];
  const fits = numbers.length === size || (kind === 'color' && numbers.length === 3);
  if (!fits || numbers.some((x) => typeof x !== 'number'))
    throw new TypeError(
      `${name} of “${material.name}” takes ${size === 1 ? 'a number' : `a list of ${kind === 'color' ? '3 or 4' : size} numbers`}, not ${JSON.stringify(given) ?? String(given)}.`,
    );
  if (numbers.some((x) => !Number.isFinite(x)))
    throw new RangeError(
      `${name} of “${material.name}” was given ${numbers.join(', ')}, which is not a finite number.`,
    );
  const kept = kind === 'int' || kind === 'noise' ? numbers.map(Math.round) : numbers.map(Number);
  return kind === 'color' && kept.length === 3 ? [...kept, 0] : kept;
};

/** What a parameter stands at: as a script has set it, else as a cue or a rule drives it, else as it is authored. */
const now = ({ kind, own, value, slot }) =>
  read(kind, own ?? (isDriven ? parse(underOf(slot)) : null) ?? value);
/** Whether cues or rules drive anything in this tick: the host is asked what, where a script wants to know. */
let isDriven = false;
/** Places that were set in this tick. */
let changed = [];
const sharedOnes = new Map();
const common = (parameter) => {
  const known = sharedOnes.get(parameter.name) ?? parameter;
  sharedOnes.set(parameter.name, known);
  return known;
};

let [slots, offset] = [0, 0];
const handles = new Map(
  materials.map((material) => {
    const owns = new Map(
      material.parameters.map(({ name, value }) => {
        const place = { slot: slots, offset, isChanged: false };
        slots += 1;
        offset += value.length;
        return [name, place];
      }),
    );
    const known = new Map(
      material.parameters.map((parameter) => [
        parameter.name,
        // A shared parameter is the same one in every material that has it.
        parameter.shared ? common(parameter) : parameter,
      ]),
    );
    const find = (name) => {
      const parameter = known.get(name);
      if (!parameter)
        throw new ReferenceError(
          `“${material.name}” has no parameter “${String(name)}”.${suggestion(name, [...known.keys()])}`,
        );
      return parameter;
    };
    // Names there are, are looked up without a trap; only one that there is not falls through to what refuses it.
    const handle = create(
      new Proxy(create(null), {
        get: (_, name) => (typeof name === 'symbol' ? undefined : void find(name)),
        set: (_, name) => {
          find(name);
          return false;
        },
        has: () => false,
      }),
    );
    for (const [name, parameter] of known) {
      const place = owns.get(name);
      parameter.slot ??= place.slot;
      const isPlain = parameter.kind === 'float';
      Object.defineProperty(handle, name, {
        enumerable: true,
        get: () => now(parameter),
        set: (given) => {
          // Most of what is written is one number.
          if (isPlain && typeof given === 'number' && given - given === 0) {
            if (parameter.own) parameter.own[0] = given;
            else parameter.own = [given];
          } else parameter.own = checked(material, parameter, given);
          if (place.isChanged) return;
          place.isChanged = true;
          place.parameter = parameter;
          changed[changed.length] = place;
        },
      });
    }
    Object.preventExtensions(handle);
    return [material.name, handle];
  }),
);
