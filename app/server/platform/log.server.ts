import pino from "pino";
import { config } from "./config.server";

/** Structured log, one JSON line an event; BRINTEL_LOG sets the level (default: warnings and worse). */
export const log = pino({ level: config().BRINTEL_LOG, base: undefined });
