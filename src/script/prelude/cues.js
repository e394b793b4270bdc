// Cues and flourishes as scripts see them.
let calls = [];
const call = (...given) => {
  if (calls.length >= 1000) throw new RangeError('Cues and flourishes were called 1000 times in one tick.');
  calls[calls.length] = given;
};
let standing = create(null);
const cuesFor = (when) =>
  new Map(
    cues.map(({ id, name, length }) => {
      /** Ticks at which it was told to play, which the set hears of after the script. */
      let asked = -1;
      const isRunning = () => asked === ticks || standing[id]?.moves === true;
      return [
        name,
        Object.freeze(
          Object.defineProperties(create(null), {
            name: { value: name, enumerable: true },
            length: { value: length, enumerable: true },
            at: { enumerable: true, get: () => standing[id]?.at ?? 0 },
            isPlaying: { enumerable: true, get: isRunning },
            play: {
              value: (at) => {
                call('play', id, at === undefined ? null : seconds(at, 'play'));
                asked = ticks;
                return when(() => !isRunning());
              },
            },
            stop: {
              value: () => {
                asked = -1;
                call('end', id);
              },
            },
            seek: { value: (at) => call('seek', id, seconds(at, 'seek')) },
          }),
        ),
      ];
    }),
  );

let plays = [];
const flourishesFor = (when) =>
  new Map(
    flourishes.map(({ id, name }) => {
      let asked = -1;
      const isRunning = () => asked === ticks || plays.includes(id);
      const begin = (...given) => {
        call('flourish', id, ...given);
        asked = ticks;
        return when(() => !isRunning());
      };
      return [
        name,
        Object.freeze(
          Object.defineProperties(create(null), {
            name: { value: name, enumerable: true },
            isPlaying: { enumerable: true, get: isRunning },
            play: { value: () => begin() },
            at: {
              value: (where, up) => {
                const point = pointOf(where, 'at');
                // What is nowhere has no place for it.
                return point ? begin(point, up === undefined ? null : pointOf(up, 'at')) : Promise.resolve();
              },
            },
            stop: {
              value: () => {
                asked = -1;
                call('douse', id);
              },
            },
          }),
        ),
      ];
    }),
  );
