import { z } from "zod";

/** A date at the bench: of this age, so that a slip of the year is seen. */
export const dateSchema = z.iso
  .date({ error: "Give a date as year-month-day." })
  .refine((date) => date >= "1990-01-01" && date <= "2199-12-31", {
    error: "Look at the year of this date: bottles are younger than 1990 and end before 2200.",
  });
