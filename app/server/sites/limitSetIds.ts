import { z } from "zod";

const idsSchema = z.array(z.string());

/** The ids of sets of limits from a column that keeps them. */
export const limitSetIds = (column: string): string[] => idsSchema.parse(JSON.parse(column));
