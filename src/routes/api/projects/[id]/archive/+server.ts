import { fileName } from '#core/handover/archive.ts';
import { packProject } from '#server/archives.ts';
import { database } from '#server/database.ts';
import { errorResponse, toApiError } from '#server/errors.ts';
import type { RequestHandler } from './$types';

/** The project as one zip. */
export const GET: RequestHandler = async ({ params }) => {
  try {
    const { name, bytes } = await packProject(database(), params.id);
    return new Response(bytes, {
      headers: {
        'content-type': 'application/zip',
        'content-disposition': `attachment; filename="${fileName(name)}.zip"`,
      },
    });
  } catch (error) {
    return errorResponse(toApiError(error));
  }
};
