import { materialsOn } from '#core/document/materialsOn.ts';
import type { CompiledShader } from '#core/compileShader.ts';
import type { Parameter, SurfaceSettings } from '#core/document/shader.ts';
import type { StageDocument } from '#core/document/project.ts';
import { numbersFor, tablesFor, type Authored } from '#core/time/values.ts';
import type { Stage } from '#stage/stage.ts';

/** What a material looks like: its program, and what it stands at. */
export interface Look {
  readonly material: string;
  readonly shader: CompiledShader;
  readonly settings: SurfaceSettings;
  readonly parameters: readonly Parameter[];
  readonly authored: Authored;
  readonly knobs: ReadonlyMap<string, readonly number[]>;
  readonly pictures: ReadonlyMap<string, string>;
}

/** Draws a set once, of the looks given those that stand on it, out of sight, as a PNG of so many pixels. */
export const drawSet = (
  stage: Stage,
  set: StageDocument,
  looks: readonly Look[],
  [width, height]: readonly [number, number],
): Promise<Blob | null> => {
  const standing = materialsOn(set);
  const seen = looks.filter((each) => standing.has(each.material));
  stage.resize(width, height, 1);
  stage.setScene(set, new Map(seen.map(({ material, ...each }) => [material, each])));
  stage.resetCamera();
  for (const { material, parameters, authored, knobs, pictures } of seen)
    stage.setNumbers(material, {
      parameters: numbersFor(parameters, authored),
      tables: tablesFor(parameters, authored),
      ...{ knobs, pictures },
    });
  return stage.snapshot();
};
