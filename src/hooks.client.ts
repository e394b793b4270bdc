import type { HandleClientError } from '@sveltejs/kit';

/** A page whose data did not arrive says so; anything else keeps what SvelteKit says. */
export const handleError: HandleClientError = ({ error, message }) => ({
  message:
    error instanceof TypeError && /fetch|network|load failed/i.test(error.message)
      ? 'The server cannot be reached. What was changed here is kept in this browser and saved when it is back.'
      : message,
});
