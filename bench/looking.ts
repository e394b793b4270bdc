import { CHECKS, findAll } from '#core/analyse/findAll.ts';
import { lookInto, wornPlainly } from '#core/analyse/lookInto.ts';
import { compileShader } from '#core/compileShader.ts';
import { FIRST_BUDGETS } from '#core/document/budgets.ts';
import { NO_MOTIFS } from '#core/document/motif.ts';
import { newPart, type PartOf } from '#core/document/project.ts';
import { sketchParameter, sketchShader } from '#core/document/sketch.ts';
import type { ShaderDocument } from '#core/document/shader.ts';
import { inputsAt, standCorners } from '#core/evaluate/points/onMesh.ts';
import { spotAtUv, spotsOver } from '#core/evaluate/points/spots.ts';
import { prepare } from '#core/evaluate/columns/evaluate.ts';
import { preparePin } from '#core/taps/readPin.ts';
import { sweep } from '#core/taps/sweep.ts';
import { ratio, timeOf, type Figure } from './measure.ts';

const FRAME_MS = 1000 / 60;
const burn = sketchParameter('burn', 'float', [0.5]);
/** A mask of so many steps of the usual kinds, driven by one parameter. */
const shaderOf = (steps: number): ShaderDocument =>
  sketchShader(
    {
      mask: Array.from({ length: steps }, (_, i) =>
        i === 0
          ? (['valueNoise', { p: 'uv * 6.0' }] as const)
          : ([
              (['add', 'multiply', 'smoothstep', 'remap'] as const)[i % 4]!,
              i % 4 === 0 ? { y: 'burn * 0.1' } : {},
            ] as const),
      ),
    },
    { opacity: 'saturate(mask)', emission: 'vec3(mask)' },
    [burn],
    { lit: false, alphaMode: 'blended' },
  );

/** Pins, sweeps and checks: what is looked at besides the picture. */
export const lookingFigures = (): Figure[] => {
  const { shader } = compileShader(shaderOf(60));
  const worn = wornPlainly([burn]);
  const given = { ...worn.given, knobs: shader!.knobs };
  const { standing } = worn;
  const spot = spotAtUv(standing.mesh, 0.4, 0.6)!;
  const read = preparePin(shader!.program);
  const pin = timeOf(() => read(standing, spot, given));

  const asked = {
    ...{ program: shader!.program, parameter: 'burn', from: 0, to: 1, samples: 64, standing, given },
  };
  const swept = timeOf(() => {
    const work = sweep(asked);
    while (!work.next().done);
  });
  const { opacity, emission } = shader!.program.outputs;
  const spots = spotsOver(standing.mesh, standing.placement, 4096);
  const points = inputsAt(standCorners(standing, spots.corners, undefined, given), spots, false);
  const run = prepare([opacity!, emission!]);
  const once = timeOf(() => run({ ...points, ...given }));

  const checking = (steps: number): number => {
    const part = newPart('shader', 'sh', 'Bench', shaderOf(steps)) as PartOf<'shader'>;
    return timeOf(() => {
      const subject = lookInto(part, NO_MOTIFS, [worn])!;
      findAll({
        ...{ subjects: [subject], set: null, materials: [], shaders: [part], scripts: [] },
        ...{ scripted: new Set<string>(), budget: FIRST_BUDGETS[0]! },
      });
    });
  };
  const [few, many] = [checking(20), checking(200)];
  return [
    {
      name: 'a pin’s 60 steps against a frame',
      value: ratio(pin, FRAME_MS),
      against: `asked ≤ × 1; ${pin.toFixed(1)} ms`,
    },
    {
      name: 'a sweep of 64 against 64 evaluations',
      value: ratio(swept, 64 * once),
      against: `with bisection and what it counts; ${swept.toFixed(0)} ms, in a worker`,
    },
    {
      name: `${CHECKS.length} checks of 200 steps against of 20`,
      value: ratio(many, few),
      against: `× 10 would be linear; ${many.toFixed(0)} ms, in a worker`,
    },
  ];
};
