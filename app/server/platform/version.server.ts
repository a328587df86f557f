import { version } from "../../../package.json";

/** The version of this program, as its package says. */
export const programVersion: string = version;
