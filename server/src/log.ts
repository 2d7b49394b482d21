/** The server's log, on standard error. */
import pino from 'pino';

export const log = pino({ level: process.env.LOG_LEVEL ?? 'warn' }, pino.destination(2));
