import type { SurfaceLocal } from '../../language/names/glslNames.ts';
import type { OutputDeclaration, Shading, Value } from '../../program/value.ts';
import type { Dialect } from './dialect.ts';

/** How a language ends a pixel. */
export interface PixelEnds {
  readonly discardWhere: (condition: string) => string;
  readonly give: (color: string, alpha: string) => string;
}

/** Alpha below this is cut out (glTF 2.0's alphaCutoff). */
const CUTOFF = '0.5';

/**
 * The last lines of a pixel: each output as it is authored, or as it starts, then lit or not, and given back.
 * @param own what each output's variable is called
 */
export const writeSurface = (
  dialect: Dialect,
  ends: PixelEnds,
  declared: readonly OutputDeclaration[],
  outputs: Readonly<Record<string, Value>>,
  { lit, alphaMode }: Shading,
  text: (value: Value) => string,
  own: Readonly<Record<SurfaceLocal, string>>,
): string[] => {
  const nameOf = (output: string): string => own[output as SurfaceLocal];
  const startOf = ({ type, start }: OutputDeclaration): string =>
    typeof start === 'string' ? start : dialect.constant(type, start);
  const lines = declared
    .filter(({ start }) => typeof start !== 'string')
    .flatMap((each) => {
      const value = outputs[each.name];
      const line = dialect.declare(each.type, nameOf(each.name), value ? text(value) : startOf(each));
      const cuts = each.name === 'opacity' && alphaMode === 'cutout';
      return cuts ? [line, ends.discardWhere(`${nameOf('opacity')} < ${CUTOFF}`)] : [line];
    });
  const reflected = (): string => {
    const surface = ['baseColor', 'metallic', 'roughness', 'occlusion'].map(nameOf).join(', ');
    const normal = outputs['normal'];
    return `lightSurface(${surface}, ${normal ? text(normal) : 'normal'}, viewDirection, position)`;
  };
  const seeThrough = alphaMode === 'blended' || alphaMode === 'added';
  return [
    '// surface',
    ...lines,
    dialect.declare('vec3', own.color, `${lit ? reflected() : nameOf('baseColor')} + ${nameOf('emission')}`),
    ends.give(own.color, seeThrough ? nameOf('opacity') : '1.0'),
  ];
};
