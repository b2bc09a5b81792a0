/** JSON escapes of NUL and of lone surrogates, not preceded by an escaped backslash: PostgreSQL has neither in text, and both are legal in JSON. */
export const UNSTORABLE = /(?<!\\)(?:\\\\)*\\u(?:0000|d[89a-f][0-9a-f]{2})/i;
