import pino from 'pino';

/** The server's log: one line of JSON an entry. */
export const log = pino({ level: process.env.LOG_LEVEL ?? 'warn' });
