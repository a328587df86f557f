import { z } from "zod";

const answerSchema = z.object({
  now: z.number(),
  answers: z.array(
    z.union([
      z.object({ id: z.string(), is: z.enum(["kept", "known"]) }),
      z.object({ id: z.string(), is: z.literal("refused"), code: z.string(), message: z.string() }),
    ]),
  ),
});

/** What the server says of each event that was sent. */
export const readAnswers = (body: unknown) => answerSchema.parse(body);

/** The sentence of a refusal, where it came with one. */
export const readMessage = (body: unknown): string | undefined =>
  z.object({ message: z.string() }).safeParse(body).data?.message;
