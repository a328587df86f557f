import { z } from "zod";
import { type CustodyState, holderOf } from "./custody";
import { seals } from "./custodyEvents";
import { custodyFindings } from "./custodyFindings";

const moment = z.string().meta({ format: "date-time" });
const testSchema = z.object({ parameter: z.string(), name: z.string() });

/** A batch as a file: whoever receives the samples can read the whole way they came. */
const custodyFileSchema = z
  .object({
    format: z.literal("brintel-custody"),
    version: z.literal(1),
    id: z.string().meta({ description: "Id of the batch." }),
    made_at: moment,
    zone: z.string().meta({ description: "The zone in which times are printed; those in the file are UTC." }),
    laboratory: z.string(),
    programme: z.string(),
    contact: z.string(),
    notes: z.string(),
    samples: z.array(
      z.object({
        id: z.string().meta({ description: "Id of the sample: what its QR code holds." }),
        code: z.string(),
        site: z.string(),
        water: z.string(),
        bottle: z.string(),
        collected_at: moment,
        keeps_until: moment,
        preservative: z.string().nullable(),
        filtered: z.enum(["filtered", "too-turbid", "not"]).nullable(),
        arrives_c: z.number().nullable().meta({ description: "At most so warm when received, °C." }),
        tests: z.array(testSchema),
        added_tests: z.array(testSchema),
        findings: z.array(z.object({ rule: z.string(), sentence: z.string() })),
      }),
    ),
    cooler_checks: z.array(
      z.object({ at: moment, fresh_ice: z.boolean(), temperature_c: z.number().nullable() }),
    ),
    hand_overs: z.array(
      z.object({
        at: moment,
        from: z.string(),
        to: z.string(),
        temperature_c: z.number().nullable(),
        seal: z.enum(seals),
        receipt: z.boolean().meta({ description: "Whether this is the receipt by the laboratory." }),
      }),
    ),
    holder: z.string().meta({ description: "Who has the samples now." }),
  })
  .strict();
export type CustodyFile = z.output<typeof custodyFileSchema>;

/** The published JSON Schema of a batch. */
export const custodyJsonSchema = () => ({
  ...z.toJSONSchema(custodyFileSchema, { target: "draft-7" }),
  title: "Brintel batch of samples, version 1",
});

/** A batch as its file. */
export const custodyFile = (id: string, state: CustodyState, zone: string): CustodyFile => ({
  format: "brintel-custody",
  version: 1,
  id,
  made_at: state.started_at,
  zone,
  laboratory: state.batch.laboratory,
  programme: state.batch.programme,
  contact: state.batch.contact,
  notes: state.batch.notes,
  samples: state.samples.map(({ added, site_id: _, ...s }) => ({
    ...s,
    added_tests: added,
    findings: custodyFindings(state, s.id, zone).map(({ rule, sentence }) => ({ rule, sentence })),
  })),
  cooler_checks: state.cooler,
  hand_overs: state.handovers,
  holder: holderOf(state),
});
