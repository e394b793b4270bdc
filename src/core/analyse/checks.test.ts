import assert from 'node:assert/strict';
import { test } from 'node:test';
import { FIRST_BUDGETS } from '../document/budgets.ts';
import { newPart, type PartOf, type Prop } from '../document/project.ts';
import { applyPatches } from '../document/patch.ts';
import { sketchParameter as parameter, sketchShader } from '../document/sketch.ts';
import type { ShaderDocument } from '../document/shader.ts';
import type { Picture } from '../evaluate/points/points.ts';
import { NO_MOTIFS } from '../document/motif.ts';
import type { MeshRecipe } from '../meshes/makeMesh.ts';
import { usesIn } from '../../script/usesIn.ts';
import { CHECKS } from './findAll.ts';
import { findInMotif, lookIntoMotif } from './findInMotif.ts';
import {
  value,
  float,
  texture,
  blended,
  setPart,
  type Given,
  sceneOf,
  told,
  found,
  both,
  shader,
} from './checks.testing.ts';

test('names that nothing reads, by no script either', () => {
  const used = shader({ mask: value('uv.x') }, { emission: 'vec3(mask)' });
  both('unused-name', [shader({ mask: value('uv.x') }, {})], [used]);
  both('unused-name', [shader({}, {}, [float('burn', 0, 1)])], [used]);
  const scene = sceneOf(shader({}, {}, [float('burn', 0, 1)]));
  assert.deepEqual(told({ ...scene, scripted: new Set(['burn']) }, 'unused-name'), []);
});

test('numbers that leave where they mean something are told with what they came to', () => {
  const [over] = [
    both(
      'unclamped-opacity',
      [shader({ mask: value('uv.x * burn') }, { opacity: 'mask' }, [float('burn', 0, 2)], blended)],
      [shader({ mask: value('uv.x * burn') }, { opacity: 'mask' }, [float('burn', 0, 1)], blended)],
    ),
  ];
  assert.match(over.message, /^The opacity is (1\.9\d|2\.00) with burn at 2 on Gauze\.$/);
  both(
    'zero-divisor',
    [shader({ a: value('uv.x / width') }, { emission: 'vec3(a)' }, [float('width', 0, 1)])],
    // Its two sides move together: the width never is 0.
    [
      shader(
        { a: [...value('uv.x'), ['smoothstep', { low: '1.0 - width', high: '1.2 - width' }]] },
        { emission: 'vec3(a)' },
        [float('width', 0, 1)],
      ),
    ],
  );
  both(
    'negative-power',
    [shader({ a: [...value('uv.x - 0.5'), ['power', { y: 2 }]] }, { emission: 'vec3(a)' })],
    [shader({ a: [...value('uv.x'), ['power', { y: 2 }]] }, { emission: 'vec3(a)' })],
  );
  const nan = both(
    'not-a-number',
    [shader({ a: value('1.0 / max(uv.x - 0.5, 0.0)'), b: value('a + 1.0') }, { emission: 'vec3(b)' })],
    [shader({ a: value('1.0 / (uv.x + 0.5)') }, { emission: 'vec3(a)' })],
  );
  assert.deepEqual(nan.place, { kind: 'step', strand: 's-a', step: 'a-0' }, 'where it begins');
  const jerks = (speed: number) =>
    shader({ a: value(`sin(time * ${speed.toFixed(1)})`) }, { emission: 'vec3(a)' });
  both('time-precision', [jerks(500)], [jerks(2)]);
});

test('textures that are made are held against how a shader reads them', () => {
  const read = (p: string) =>
    shader({ a: [['sample', { picture: 'tile', p }]] }, { roughness: 'a.x' }, [texture]);
  both('texture-use', [read('uv'), { made: { holds: 'color' } }], [read('uv'), { made: {} }]);
  const once: Given = { made: { repeats: [true, false] } };
  both('texture-use', [read('uv * 3.0'), once], [read('uv'), once]);
  const decoded = shader({ a: [['sample', { picture: 'tile' }]] }, { emission: 'srgbToLinear(a.rgb)' }, [
    texture,
  ]);
  both('texture-use', [decoded, { made: {} }], [decoded, { made: { holds: 'color' } }]);
  // Floats of colour are light: no curve is taken from them, and none has to be.
  const floats: Given = { made: { holds: 'color', bits: 32 } };
  both('texture-use', [decoded, floats], [read('uv'), floats]);
  const moves = shader(
    { a: value('texture(tile, uv).xy'), b: [['sample', { picture: 'tile', p: 'a' }]] },
    { emission: 'srgbToLinear(b.rgb)' },
    [texture],
  );
  const stepped: Given = { made: { holds: 'color', filter: 'nearest' } };
  const { message } = both('texture-use', [moves, stepped], [decoded, stepped]);
  assert.match(message, /^Ripples is read at its nearest texel, and tile moves the place/);
});

test('pictures: their seams, their filter, their colours and their normals', () => {
  const ramp = (tiles: boolean): Picture => ({
    ...{ width: 16, height: 16, wrap: 'repeat', filter: 'linear' },
    rgba: Float32Array.from({ length: 1024 }, (_, i) => {
      const x = Math.floor(i / 4) % 16;
      return tiles ? 0.5 + 0.5 * Math.sin((x / 16) * 2 * Math.PI) : x / 16;
    }),
  });
  const tiled = shader({ a: [['sample', { picture: 'tile', p: 'uv * 3.0' }]] }, { emission: 'a.rgb' }, [
    texture,
  ]);
  const pictured = (tiles: boolean): Given => ({ pictures: [['tile', ramp(tiles)]] });
  const [seam, none] = [pictured(false), pictured(true)];
  both('untiled-picture', [tiled, seam], [tiled, none]);
  const once = shader({ a: [['sample', { picture: 'tile' }]] }, { emission: 'a.rgb' }, [texture]);
  assert.deepEqual(told(sceneOf(once, seam), 'untiled-picture'), [], 'within its edges no seam is seen');

  const floats = (...rgba: number[]): Given => ({
    pictures: [
      [
        'tile',
        {
          ...{ width: 1, height: 1, wrap: 'repeat', filter: 'linear' },
          rgba: Float32Array.of(...rgba, 1),
        },
      ],
    ],
  });
  both('beyond-half', [once, floats(0, 0, 65504)], [once, floats(0, -9, 65472)]);
  const [broken] = told(sceneOf(once, floats(1, NaN, -Infinity)), 'beyond-half');
  assert.match(broken!.message, /^tile on Gauze has numbers that are infinite or none at all, 2 of them\.$/);

  const moved = (by: string) =>
    shader({ a: value(by), b: [['sample', { picture: 'tile', p: 'uv + a' }]] }, { emission: 'b.rgb' }, [
      texture,
      parameter('waver', 'curve', [0, 0, 1, 1, 1, 1, 1, 1]),
    ]);
  both(
    'stepped-distortion',
    [moved('texelFetch(tile, ivec2(uv * 16.0), 0).xy')],
    [moved('texture(tile, uv).xy')],
  );

  const rough = (decode: boolean): ShaderDocument =>
    shader(
      { a: [...value('sample(tile, uv).rgb'), ...(decode ? [['srgbToLinear'] as const] : [])] },
      { roughness: 'a.x' },
      [texture],
    );
  both('colour-space', [rough(true)], [rough(false)]);
  const within = shader({}, { roughness: 'srgbToLinear(sample(tile, uv).rgb).x' }, [texture]);
  assert.equal(told(sceneOf(within), 'colour-space').length, 1, 'inside an expression');
  const decoded = { emission: 'srgbToLinear(a.rgb) * 0.5' };
  both('colour-space', [once], [shader({ a: [['sample', { picture: 'tile' }]] }, decoded, [texture])]);

  const normals = (how: string) =>
    shader(
      {
        base: [['sample', { picture: 'tile' }]],
        fine: [['sample', { picture: 'tile', p: 'uv * 8.0' }]],
        both: [
          ...value('base.xyz'),
          how === 'mix'
            ? ['mix', { y: 'fine.xyz', amount: 0.5 }]
            : ['combineNormals', { detail: 'fine.xyz' }],
        ],
        bent: [...value('both'), ['tangentToWorld']],
      },
      { normal: 'bent' },
      [texture],
    );
  both('mixed-normals', [normals('mix')], [normals('combine')]);
});

test('the set: meshes, distances, what is behind, bloom, and what is brought to the display', () => {
  const wave = (n: number) => shader({}, { vertexOffset: `normal * sin(uv.x * ${n.toFixed(1)}) * 0.2` });
  const set = setPart();
  both('coarse-mesh', [wave(14), { set }], [wave(0.5), { set }]);

  const near = shader({ a: value('surfaceDistance') }, { emission: 'vec3(a)' });
  const lining = (fieldless?: true, parent = 'cloth') =>
    setPart({
      props: [
        set.body.props[0]!,
        { ...set.body.props[0]!, id: 'twin', name: 'Twin', position: [5, 0, 0] },
        {
          ...{ id: 'lining', name: 'Lining', material: 'other', parent, position: [0, 0, 0] },
          ...{ rotation: [0, 0, 0], mesh: { kind: 'plane', size: [1.9, 1.9], divisions: [1, 1] } },
          ...(fieldless ? { fieldless } : {}),
        },
      ],
    });
  // Of cloths that are alike any may be the one that it lines.
  for (const parent of ['cloth', 'twin'])
    both('own-distance', [near, { set: lining(undefined, parent) }], [near, { set: lining(true, parent) }]);

  const beside = (mesh: MeshRecipe, marks: Partial<Prop> = {}) =>
    setPart({
      props: [
        set.body.props[0]!,
        {
          ...{
            id: 'beside',
            name: 'Beside',
            material: 'other',
            position: [2, 0, 0],
            rotation: [0, 0, 0],
            mesh,
          },
          ...marks,
        },
      ],
    });
  const plane: MeshRecipe = { kind: 'plane', size: [1, 1], divisions: [1, 1] };
  const ball: MeshRecipe = { kind: 'sphere', radius: 0.4, divisions: [64, 32] };
  // The cloth that asks is open too, and does not count for itself.
  const cloth = { ...set.body.props[0]!, fieldless: true };
  const alone = (other: ReturnType<typeof beside>) => ({
    set: { ...other, body: { ...other.body, props: [cloth, other.body.props[1]!] } },
  });
  both('open-mesh', [near, alone(beside(plane))], [near, alone(beside(plane, { unsigned: true }))]);
  both('open-mesh', [near, alone(beside(plane))], [near, alone(beside(ball))]);
  // Another of what asks, which is looked at with the first, asks for the first too; one that is not seen asks for none.
  const twin = (hidden: boolean) =>
    setPart({ props: [set.body.props[0]!, { ...cloth, id: 'twin', position: [3, 0, 0], hidden }] });
  both('open-mesh', [near, { set: twin(false) }], [near, { set: twin(true) }]);

  const behind = (alphaMode: 'opaque' | 'blended') =>
    shader({ a: [['sceneColor']] }, { emission: 'a' }, [], { lit: false, alphaMode });
  both('missing-scene', [behind('opaque'), { set }], [behind('blended'), { set }]);
  const uncopied = setPart({
    props: [set.body.props[0]!, { ...set.body.props[0]!, id: 'wall', material: 'other', uncopied: true }],
  });
  both('missing-scene', [behind('blended'), { set: uncopied }], [behind('blended'), { set }]);

  const bright = shader({}, { emission: 'vec3(4.0, uv.x, 0.0)' }, [], { lit: false });
  const dull = setPart({ bloom: { threshold: 1, intensity: 0 } });
  both('no-bloom', [bright, { set: dull }], [bright, { set }]);

  const shown = (encode: boolean) =>
    shader(
      { a: [['value', { x: 'vec3(uv, 0.2)' }], ...(encode ? [['linearToSrgb'] as const] : [])] },
      { emission: 'a * 0.5' },
    );
  both('tone-mapped-twice', [shown(true)], [shown(false)]);
});

test('room and budgets', () => {
  const names = Array.from({ length: 17 }, (_, i) => `tile${i}`);
  const reading = (count: number) =>
    shader(
      {
        a: value(
          names
            .slice(0, count)
            .map((name) => `texture(${name}, uv).x`)
            .join(' + '),
        ),
      },
      { emission: 'vec3(a)' },
      names.map((name) => parameter(name, 'texture', [])),
      { lit: false },
    );
  both('too-many-textures', [reading(17)], [reading(4)]);
  const over = both('over-budget', [reading(9)], [reading(8)]);
  assert.match(over.message, /9 texture reads, where the phone budget has 8/);
});

test('a script that names what a shader has not, with the nearest that it has', () => {
  const body = shader({ a: value('burn') }, { emission: 'vec3(a)' }, [float('burn', 0, 1)]);
  const script = (name: string) =>
    `const veil = material('Gauze');\nonTick((dt) => {\n  veil.${name} += dt;\n  log(other.bern);\n});`;
  const wrong = both('script-names', [body, { script: script('bern') }], [body, { script: script('burn') }]);
  assert.match(
    wrong.message,
    /^Line 3: Veil, which Gauze wears, has no parameter bern\. The nearest is burn\.$/,
  );
  assert.match(
    told(sceneOf(body, { script: `material('Gauzy').burn = 1;` }), 'script-names')[0]!.message,
    /no material “Gauzy”.*Gauze/,
  );
  const set = newPart('stage', 'hall', 'Hall', {
    ...{ format: 'wicked-veil/stage', version: 1, lights: [], ambientUp: [0, 0, 0], ambientDown: [0, 0, 0] },
    ...{ camera: { position: [0, 0, 3], target: [0, 0, 0], fieldOfView: 40 }, exposure: 1 },
    ...{ bloom: { threshold: 1, intensity: 0 } },
    ...{ props: [{ id: 'b', name: 'Bell' }], cues: [{ id: 't', name: 'toll', tracks: [], starts: [] }] },
  } as never) as PartOf<'stage'>;
  const things = (text: string) => told({ ...sceneOf(body, { script: text }), set }, 'script-names');
  assert.deepEqual(things("prop('Bell').hidden = true; cue('toll').play();"), []);
  assert.deepEqual(
    things("const b = prop('Bel');\ncue('tol').play();").map(({ message }) => message),
    [
      'Line 1: there is no prop “Bel” in Hall. The nearest is Bell.',
      'Line 2: there is no cue “tol” in Hall. The nearest is toll.',
    ],
  );
  // A cue on the same parameter or the same key: reading it, or another key, is no conflict.
  const track = { id: 't', target: { kind: 'parameter', of: 'm', what: body.parameters[0]!.id }, keys: [] };
  const driving = setPart({
    cues: [{ id: 'c', name: 'kindle', tracks: [track], starts: [{ by: 'key', key: 'Space' }] }] as never,
  });
  const plays = (text: string) => [body, { set: driving, script: text }] as const;
  const twice = both(
    'driven-twice',
    plays(`const veil = material('Gauze');\nonTick(() => (veil.burn += 1));`),
    plays(`const veil = material('Gauze');\nonKey('KeyN', () => log(veil.burn));`),
  );
  assert.match(twice.message, /^Line 2 sets burn of Gauze, which the cue kindle animates too/);
  assert.match(
    told(sceneOf(...plays(`onKey('Space', () => log(1));`)), 'driven-twice')[0]!.message,
    /^Line 1 listens to Space, which also starts the cue kindle/,
  );
  assert.deepEqual(
    usesIn(`let a = material('Gauze'); a = material('Other'); a.burn = 1;`).filter((each) => each.parameter),
    [],
    'a variable that is given another material tells nothing',
  );
});

test('a cue that drives what was deleted, where that is known', () => {
  const body = shader({ a: value('burn') }, { emission: 'vec3(a)' }, [float('burn', 0, 1)]);
  const [gauze] = sceneOf(body).materials;
  const [burn] = body.parameters;
  const set = (of: string, what: string): PartOf<'stage'> =>
    newPart('stage', 'set', 'Hall', {
      ...{
        format: 'wicked-veil/stage',
        version: 1,
        lights: [],
        ambientUp: [0, 0, 0],
        ambientDown: [0, 0, 0],
      },
      ...{ camera: { position: [0, 0, 3], target: [0, 0, 0], fieldOfView: 40 }, exposure: 1, props: [] },
      bloom: { threshold: 1, intensity: 0 },
      cues: [
        {
          ...{ id: 't', name: 'toll', length: 1, starts: [] },
          tracks: [{ id: 'k', target: { kind: 'parameter', of, what }, keys: [{ at: 0, value: [1] }] }],
        },
      ],
    } as never) as PartOf<'stage'>;
  const wrong = both(
    'idle-cue',
    [body, { set: set(gauze!.id, 'gone') }],
    [body, { set: set(gauze!.id, burn!.id) }],
  );
  assert.equal(wrong.message, 'The cue toll: The parameter that this drove was deleted.');
  const scene = sceneOf(body, { set: set('elsewhere', 'x') });
  assert.match(told(scene, 'idle-cue')[0]!.message, /The material whose parameter this drove was deleted/);
  // Where no material is known, nothing is said of one.
  assert.deepEqual(told({ ...scene, materials: [], shaders: [] }, 'idle-cue'), []);
});

test('what an author has answered is told no more, and every check was found to find something', () => {
  const body: ShaderDocument = {
    ...shader({ mask: value('uv.x') }, {}),
    silenced: [{ check: 'unused-name', at: 'strand/s-mask', note: 'to be looked at' }],
  };
  assert.equal(told(sceneOf(body), 'unused-name')[0]!.note, 'to be looked at');
  assert.deepEqual(
    CHECKS.map(({ name }) => name).filter((name) => !found.has(name)),
    [],
  );
});

test('a motif is checked by itself: its steps, each of its outputs, its names; answers are kept with it', () => {
  const { strands } = sketchShader(
    {
      share: [['divide', { x: 'uv.x', y: 'width' }]],
      idle: [['value', { x: 'uv.y' }]],
    },
    {},
  );
  const motif = (
    output: string,
    silenced: { check: string; at: string; note: string }[] = [],
    least = 0,
  ) => ({
    ...{ id: 'mo', name: 'Fade' },
    body: {
      ...{ format: 'wicked-veil/motif' as const, version: 1 as const, description: '', strands, silenced },
      parameters: [float('width', least, 1), float('spare', 0, 1)],
      outputs: [
        { id: 'o1', name: 'shown', expression: 'share' },
        { id: 'o2', name: 'root', expression: output },
      ],
    },
  });
  const look = (of: ReturnType<typeof motif>) =>
    findInMotif(of, lookIntoMotif(of, NO_MOTIFS)!, FIRST_BUDGETS[0]!);
  const found = look(motif('uv.y'));
  const told = found.map(({ check, at }) => `${check} ${at}`);
  const step = strands[0]!.steps[0]!.id;
  assert.deepEqual(told.filter((each) => !each.startsWith('not-a-number step')).sort(), [
    'unused-name parameter/p-spare',
    `unused-name strand/${strands[1]!.id}`,
    `zero-divisor step/${step}`,
  ]);
  // Not the first output alone is looked at.
  const root = look(motif('1.0 / max(uv.x - 2.0, 0.0)', [], 0.5)).filter(
    ({ check }) => check === 'not-a-number',
  );
  assert.deepEqual(
    root.map(({ at }) => at),
    ['output/root'],
  );
  // What its users give it is not taken away at a press; a strand that nothing reads is.
  const fixes = found.filter(({ fix }) => fix);
  assert.deepEqual(fixes.map(({ check, fix }) => [check, fix!.part]).sort(), [
    ['unused-name', 'mo'],
    ['zero-divisor', 'mo'],
  ]);
  const before = motif('uv.y');
  const mended = applyPatches(
    before.body,
    fixes.flatMap(({ fix }) => fix!.patches),
  );
  assert.deepEqual(
    look({ ...before, body: mended.document }).map(({ at }) => at),
    ['parameter/p-spare'],
  );
  const answered = look(
    motif('uv.y', [{ check: 'zero-divisor', at: `step/${step}`, note: 'Held by who uses it.' }]),
  );
  assert.equal(answered.find(({ check }) => check === 'zero-divisor')!.note, 'Held by who uses it.');
});
