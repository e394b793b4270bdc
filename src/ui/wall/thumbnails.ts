import { partsOf, setsOf, type Project } from '#core/document/project.ts';
import { compileElsewhere } from '../parts/compileElsewhere.ts';
import { drawSet, type Look } from '../parts/drawSet.ts';
import { picturesOf } from '../workshop/picturesOf.ts';

const WIDTH = 480;
const HEIGHT = 270;

/** Draws a project's stage once, out of sight. */
const draw = async (project: Project): Promise<Blob | null> => {
  // The stage is heavy; the wall is shown before it arrives.
  const { createStage } = await import('#stage/createStage.ts');
  const body = setsOf(project)[0]?.body;
  if (!body) return null;
  const stage = createStage(document.createElement('canvas'), {}, false);
  try {
    const compiled = await compileElsewhere(project);
    const shared = partsOf(project, 'shared')[0]?.body.values ?? {};
    const looks = partsOf(project, 'material').flatMap((material): Look[] => {
      const part = partsOf(project, 'shader').find((each) => each.id === material.body.shader);
      const shader = part && compiled.get(part.id)?.shader;
      if (!shader) return [];
      const { surface: settings, parameters } = part.body;
      return [
        {
          ...{ material: material.id, shader, settings, parameters, knobs: shader.knobs },
          authored: { values: material.body.values, shared },
          pictures: picturesOf(material.body),
        },
      ];
    });
    return await drawSet(stage, body, looks, [WIDTH, HEIGHT]);
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
