import { partsOf, type Project } from '#core/document/project.ts';
import { numbersFor, tablesFor } from '#core/time/values.ts';
import { compileElsewhere } from '../parts/compileElsewhere.ts';
import { picturesOf } from '../workshop/picturesOf.ts';
import type { StageMaterial } from '#stage/stage.ts';

const WIDTH = 480;
const HEIGHT = 270;

/** Draws a project's stage once, out of sight. */
const draw = async (project: Project): Promise<Blob | null> => {
  // The stage is heavy; the wall is shown before it arrives.
  const { createStage } = await import('#stage/createStage.ts');
  const body = partsOf(project, 'stage')[0]?.body;
  if (!body) return null;
  const stage = createStage(document.createElement('canvas'));
  try {
    const compiled = await compileElsewhere(project);
    const shaders = new Map(
      partsOf(project, 'shader').map((part) => [
        part.id,
        { part, shader: compiled.get(part.id)?.shader ?? null },
      ]),
    );
    const shared = partsOf(project, 'shared')[0]?.body.values ?? {};
    const materials = new Map<string, StageMaterial>();
    for (const material of partsOf(project, 'material')) {
      const found = shaders.get(material.body.shader);
      if (found?.shader)
        materials.set(material.id, { shader: found.shader, settings: found.part.body.surface });
    }
    stage.resize(WIDTH, HEIGHT, 1);
    stage.setScene(body, materials);
    for (const material of partsOf(project, 'material')) {
      const found = shaders.get(material.body.shader);
      const authored = { values: material.body.values, shared };
      if (found?.shader)
        stage.setNumbers(material.id, {
          parameters: numbersFor(found.part.body.parameters, authored),
          tables: tablesFor(found.part.body.parameters, authored),
          knobs: found.shader.knobs,
          pictures: picturesOf(material.body),
        });
    }
    return await stage.snapshot();
  } finally {
    stage.dispose();
  }
};

let queue: Promise<unknown> = Promise.resolve();

/** A picture of the project as it stands on the server, made one at a time. */
export const thumbnailOf = (id: string): Promise<Blob | null> => {
  const made = queue.then(async () => {
    const response = await fetch(`/api/projects/${id}`);
    return response.ok ? draw((await response.json()) as Project) : null;
  });
  queue = made.catch(() => null);
  return made;
};
