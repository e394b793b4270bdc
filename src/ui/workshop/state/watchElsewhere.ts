/** How often a tab in sight asks what others saved: another browser cannot tell it. */
const ASK_EVERY_MS = 15_000;
const CHANNEL = 'wicked-veil.saved';

/**
 * Looks for what was saved elsewhere: at once when another tab of this browser says so, when this tab comes to the front,
 * and every few seconds while it is in sight.
 * @returns `tell` says to other tabs that something was saved here; `stop` ends it
 */
export const watchElsewhere = (project: string, look: () => Promise<void>) => {
  const channel = new BroadcastChannel(CHANNEL);
  const lookIfSeen = (): void => {
    if (document.visibilityState === 'visible') void look();
  };
  channel.onmessage = ({ data }: MessageEvent<unknown>) => {
    if (data === project) void look();
  };
  const timer = setInterval(lookIfSeen, ASK_EVERY_MS);
  document.addEventListener('visibilitychange', lookIfSeen);
  addEventListener('focus', lookIfSeen);
  return {
    tell: (): void => channel.postMessage(project),
    stop: (): void => {
      channel.close();
      clearInterval(timer);
      document.removeEventListener('visibilitychange', lookIfSeen);
      removeEventListener('focus', lookIfSeen);
    },
  };
};
