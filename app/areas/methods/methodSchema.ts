import { z } from "zod";
import { methodSchema } from "../../../core/methods/method";

/** The published JSON Schema of a method document. */
export const loader = () =>
  Response.json({
    ...z.toJSONSchema(methodSchema, { target: "draft-7", io: "input" }),
    title: "Brintel method, version 1",
  });
