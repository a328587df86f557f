import pino from "pino";

/** Structured log, one JSON line an event; BRINTEL_LOG sets the level (default: warnings and worse). */
export const log = pino({ level: process.env.BRINTEL_LOG ?? "warn", base: undefined });
