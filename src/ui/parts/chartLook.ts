/** The page's own colours and faces, as a chart takes them. */
export const chartLook = () => {
  const style = getComputedStyle(document.documentElement);
  const read = (name: string): string => style.getPropertyValue(name).trim();
  return {
    ink: read('--ink'),
    second: read('--second'),
    third: read('--third'),
    hairline: read('--hairline'),
    live: read('--limelight-ink'),
    mono: {
      family: getComputedStyle(document.body).getPropertyValue('--font-mono') || 'monospace',
      size: 11,
    },
  };
};
export type ChartLook = ReturnType<typeof chartLook>;
