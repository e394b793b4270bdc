import { MESH_MAPS, meshMap as mapOf, type MeshMapKind } from '../../meshes/maps/meshMap.ts';
import { declareStep } from '../declareStep.ts';
import { drawn, sizeOf } from '../image.ts';

export const meshMap = declareStep({
  name: 'meshMap',
  summary:
    'What is known of a prop’s mesh, laid out by its uv: thickness, bends, what hides it, where it is.',
  isSource: true,
  arguments: {
    of: { kind: 'prop', about: 'A prop of a set, as its mesh stands by itself.' },
    map: {
      ...{ kind: 'choice', start: 'thickness', options: MESH_MAPS },
      about:
        'Thickness: 0 thin, 1 as thick as it reaches. Curvature: 0.5 flat, 1 as bent as a ball of its reach. Occlusion: 1 open. Position: along each side of its box. Normal, and the mean open way: packed, of its own space.',
    },
    rays: {
      ...{ kind: 'number', start: 64, least: 4, most: 512, whole: true },
      about: 'Lines from each pixel, over half a sphere; thickness, occlusion and open way.',
    },
    reach: { kind: 'number', start: 0.2, least: 0.001, most: 100, about: 'In metres.' },
    padding: {
      ...{ kind: 'number', start: 8, least: 0, most: 256, unit: 'px', whole: true },
      about: 'What is filled beyond its islands.',
    },
  },
  make: (_, given, { size, scale, mesh, progress }) => {
    const word = given.word('of');
    if (!word) throw new Error('No prop is chosen yet.');
    const [width, height] = sizeOf(size, scale);
    const { values, isFilled, layout } = mapOf(mesh(word), {
      ...{ map: given.word('map') as MeshMapKind, width, height, progress },
      ...{ rays: given.number('rays'), reach: given.number('reach') },
      padding: Math.round(given.pixels('padding')),
    });
    const share = (layout.overlapping / layout.covered) * 100;
    return {
      ...drawn(width, height, (x, y, to, at) => {
        const i = y * width + x;
        for (let c = 0; c < 3; c += 1) to[at + c] = values[i * 3 + c]!;
        to[at + 3] = isFilled[i]!;
      }),
      ...(layout.overlapping
        ? {
            note: `Islands lie over each other on ${share.toFixed(share < 1 ? 2 : 0)} % of it; there the first one is seen.`,
          }
        : {}),
    };
  },
});
