import type { NewMeter } from "../../app/server/meters.server";
import type { BufferId } from "../../core/reference/phBuffers";

/** Ellerwick Ponds, an invented trust that runs natural bathing ponds; everything here is invented. */
export const people = [
  { name: "Noor Haddow", role: "technician" },
  { name: "Idris Calloway", role: "technician" },
  { name: "Maren Tolbrook", role: "reviewer" },
  { name: "Petra Lindqvale", role: "manager" },
] as const;

/** Sites in the order of the water; `ph` is the middle of what the simulation makes of it. */
export const sites = [
  {
    code: "E1",
    name: "Feed borehole E1",
    water: "borehole",
    low: 7.1,
    high: 7.6,
    ph: 7.32,
    temperature_c: 10.8,
  },
  { code: "SB", name: "Settling basin", water: "pond", low: 7.2, high: 8.0, ph: 7.62, temperature_c: 13.4 },
  {
    code: "RN",
    name: "North reed bed",
    water: "reed bed",
    low: 7.1,
    high: 7.8,
    ph: 7.44,
    temperature_c: 13.9,
  },
  {
    code: "RS",
    name: "South reed bed",
    water: "reed bed",
    low: 7.1,
    high: 7.8,
    ph: 7.41,
    temperature_c: 14.1,
  },
  { code: "BP", name: "Bathing pond", water: "pond", low: 7.4, high: 8.6, ph: 8.05, temperature_c: 15.2 },
  { code: "CP", name: "Children's pool", water: "pond", low: 7.4, high: 8.6, ph: 8.12, temperature_c: 16.4 },
  {
    code: "OF",
    name: "Outfall to the mill leat",
    water: "outfall",
    low: 7.3,
    high: 8.4,
    ph: 7.88,
    temperature_c: 14.3,
  },
] as const;

export const meters: (NewMeter & { seed: number })[] = [
  {
    code: "P-1",
    name: "Pocket pH meter for the bank",
    display: "value",
    place: "field",
    has_cable: false,
    probe_installed_on: "-210",
    seed: 11,
  },
  {
    code: "P-2",
    name: "Bench pH meter in the pump house",
    display: "signal",
    place: "bench",
    has_cable: true,
    probe_installed_on: "-335",
    seed: 42,
  },
  {
    code: "P-3",
    name: "Spare bench meter, old probe",
    display: "signal",
    place: "bench",
    has_cable: true,
    probe_installed_on: "-890",
    seed: 73,
  },
  {
    code: "P-4",
    name: "Training meter, buffers get mixed up",
    display: "signal",
    place: "bench",
    has_cable: true,
    probe_installed_on: "-60",
    seed: 91,
  },
];

/** Lots of buffer; days are counted from today. */
export const lots: {
  code: string;
  buffer: BufferId;
  received: number;
  opened: number | null;
  expires: number;
  shelf: number;
  withdrawn?: { day: number; reason: string };
}[] = [
  { code: "B4-118", buffer: "technical-4", received: -90, opened: -27, expires: 400, shelf: 60 },
  { code: "B7-127", buffer: "technical-7", received: -90, opened: -55, expires: 380, shelf: 60 },
  { code: "B7-098", buffer: "technical-7", received: -420, opened: -130, expires: -40, shelf: 180 },
  {
    code: "B10-041",
    buffer: "technical-10",
    received: -88,
    opened: -50,
    expires: 300,
    shelf: 60,
    withdrawn: { day: -32, reason: "Reads low against a fresh bottle: it has taken up carbon dioxide." },
  },
  { code: "B10-055", buffer: "technical-10", received: -32, opened: -31, expires: 420, shelf: 45 },
  { code: "B9-017", buffer: "borate", received: -90, opened: -20, expires: 390, shelf: 60 },
];
