import type { CertifiedRow } from "./certificate";

export const bufferIds = [
  "phthalate",
  "phosphate",
  "borate",
  "tetroxalate",
  "carbonate",
  "technical-4",
  "technical-7",
  "technical-10",
] as const;
export type BufferId = (typeof bufferIds)[number];

export interface BufferReference {
  id: BufferId;
  name: string;
  family: "primary" | "technical";
  source: string;
  table: CertifiedRow[];
}

const every5Degrees = (values: number[]): CertifiedRow[] =>
  values.map((value, i) => ({ temperature_c: i * 5, value }));

const primarySource = "NIST SP 260-53 / DIN 19266, from memory (±0.005 pH)";
const technicalSource = "technical buffers, common practice; a lot's certificate overrides";

/** The buffers that ship, each from 0 to 40 °C in steps of 5 °C. A lot's own certificate overrides its table. */
export const phBuffers: Record<BufferId, BufferReference> = {
  phthalate: {
    id: "phthalate",
    name: "Phthalate 4.005",
    family: "primary",
    source: primarySource,
    table: every5Degrees([4.003, 3.999, 3.998, 3.999, 4.001, 4.005, 4.012, 4.02, 4.03]),
  },
  phosphate: {
    id: "phosphate",
    name: "Phosphate 6.865",
    family: "primary",
    source: primarySource,
    table: every5Degrees([6.984, 6.951, 6.923, 6.9, 6.881, 6.865, 6.853, 6.844, 6.838]),
  },
  borate: {
    id: "borate",
    name: "Borate 9.180",
    family: "primary",
    source: primarySource,
    table: every5Degrees([9.464, 9.395, 9.332, 9.276, 9.225, 9.18, 9.139, 9.102, 9.068]),
  },
  tetroxalate: {
    id: "tetroxalate",
    name: "Tetroxalate 1.679",
    family: "primary",
    source: primarySource,
    table: every5Degrees([1.666, 1.668, 1.67, 1.672, 1.675, 1.679, 1.683, 1.688, 1.694]),
  },
  carbonate: {
    id: "carbonate",
    name: "Carbonate 10.012",
    family: "primary",
    source: primarySource,
    table: every5Degrees([10.317, 10.245, 10.179, 10.118, 10.062, 10.012, 9.966, 9.926, 9.889]),
  },
  "technical-4": {
    id: "technical-4",
    name: "Technical 4.01",
    family: "technical",
    source: technicalSource,
    table: every5Degrees([4.01, 4.0, 4.0, 4.0, 4.0, 4.01, 4.01, 4.02, 4.03]),
  },
  "technical-7": {
    id: "technical-7",
    name: "Technical 7.00",
    family: "technical",
    source: technicalSource,
    table: every5Degrees([7.12, 7.09, 7.06, 7.04, 7.02, 7.0, 6.99, 6.98, 6.97]),
  },
  "technical-10": {
    id: "technical-10",
    name: "Technical 10.01",
    family: "technical",
    source: technicalSource,
    table: every5Degrees([10.32, 10.25, 10.18, 10.12, 10.06, 10.01, 9.97, 9.93, 9.89]),
  },
};
