import { hydrateRoot } from "react-dom/client";

/**
 * The view library in a file of its own, which the page begins with as soon as it has it: a browser that meets everything for the first time
 * is busy with it in a task of its own, and not in one long task with all that is built on it. It is kept here by its value, since what is only
 * passed on would be evaluated where it is used.
 */
export const takeOver: typeof hydrateRoot = hydrateRoot;
