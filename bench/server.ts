import { median, ratio, type Figure } from './measure.ts';

/** A save's round trip against the smallest question that reaches the database. */
export const serverFigures = async (url: string): Promise<Figure[]> => {
  const send = async (path: string, method = 'GET', body?: unknown) => {
    const response = await fetch(url + path, {
      method,
      ...(body === undefined
        ? {}
        : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
    });
    return (await response.json()) as {
      id: string;
      revision: number;
      parts: { id: string; name: string; body: object }[];
    };
  };
  const project = await send('/api/projects', 'POST', { name: 'Bench' });
  const part = project.parts.find((each) => each.id === 'shader')!;
  const times: { save: number[]; health: number[] } = { save: [], health: [] };
  let revision = 1;
  for (let i = 0; i < 30; i += 1) {
    let began = performance.now();
    await send('/api/health');
    times.health.push(performance.now() - began);
    began = performance.now();
    const saved = await send(`/api/projects/${project.id}/parts/shader`, 'PUT', {
      revision,
      name: part.name,
      body: part.body,
    });
    times.save.push(performance.now() - began);
    revision = saved.revision;
  }
  await send(`/api/projects/${project.id}`, 'DELETE');
  return [
    {
      name: 'a save’s round trip',
      value: ratio(median(times.save), median(times.health)),
      against: 'the health route’s, which asks the database one question',
    },
  ];
};
