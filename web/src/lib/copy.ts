/** Copies a part of a document: it is JSON, so that a copy through JSON is all of it, and not reactive. */
export const copyOf = <T>(part: T): T => JSON.parse(JSON.stringify(part)) as T
