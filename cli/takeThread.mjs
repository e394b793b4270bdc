// Starts takeThread.ts where nothing was built: a thread does not inherit the TypeScript loader.
import { register } from 'tsx/esm/api';

register();
await import('./takeThread.ts');
