// What can go wrong with a request, and the words for it.

export class HttpError extends Error {
  constructor(message, status, data = {}) {
    super(message);
    this.status = status;
    this.data = data;
  }
}

/** The request was cancelled by the user. */
export class Cancelled extends HttpError {
  constructor() {
    super("Cancelled. Nothing was changed.", 0);
  }
}

/** The words of whatever was thrown, for the user.
    @param {unknown} error */
export const messageOf = (error) => (error instanceof Error ? error.message : String(error));

/** The status of an answer that was an error; 0 for any other error.
    @param {unknown} error */
export const statusOf = (error) => (error instanceof Error && "status" in error ? Number(error.status) : 0);
