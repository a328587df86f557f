import type { NewMeter } from "../app/server/meters/meters.server";
import type { Measurand } from "../core/quantity/measurand";
import type { BufferId } from "../core/reference/phBuffers";
import type { StandardKind } from "../core/stock/standard";

/** Ellerwick Ponds, an invented trust that runs natural bathing ponds; everything here is invented. */
export const people = [
  { name: "Noor Haddow", role: "technician" },
  { name: "Idris Calloway", role: "technician" },
  { name: "Maren Tolbrook", role: "reviewer" },
  { name: "Petra Lindqvale", role: "manager" },
] as const;

/** Sites in the order of the water; the middles are what the simulation makes of each. */
export const sites = [
  {
    code: "E1",
    name: "Feed borehole E1",
    water: "borehole",
    low: 7.1,
    high: 7.6,
    ph: 7.32,
    temperature_c: 10.8,
    ec: [560, 680],
    oxygen: 0.42,
    place: {
      latitude: 47.9952,
      longitude: -29.9981,
      km: 0,
      directions: "Behind the pump house; the key hangs inside.",
      well_depth_m: 24,
      casing_mm: 150,
      datum: "top of the casing",
      datum_above_ground_m: 0.4,
      pump: "submersible",
      sample_point: "tap before the tank",
    },
  },
  {
    code: "SB",
    name: "Settling basin",
    water: "pond",
    low: 7.2,
    high: 8.0,
    ph: 7.62,
    temperature_c: 13.4,
    ec: [520, 660],
    oxygen: 0.82,
    place: { latitude: 47.9958, longitude: -29.9968, km: 0.12 },
  },
  {
    code: "RN",
    name: "North reed bed",
    water: "reed bed",
    low: 7.1,
    high: 7.8,
    ph: 7.44,
    temperature_c: 13.9,
    ec: [500, 640],
    oxygen: 0.66,
    place: { latitude: 47.9964, longitude: -29.9962, km: 0.2 },
  },
  {
    code: "RS",
    name: "South reed bed",
    water: "reed bed",
    low: 7.1,
    high: 7.8,
    ph: 7.41,
    temperature_c: 14.1,
    ec: [500, 640],
    oxygen: 0.64,
    place: {
      latitude: 47.9967,
      longitude: -29.9955,
      km: 0.26,
      directions: "By the plank; soft ground after rain.",
    },
  },
  {
    code: "BP",
    name: "Bathing pond",
    water: "pond",
    low: 7.4,
    high: 8.6,
    ph: 8.05,
    temperature_c: 15.2,
    ec: [440, 600],
    oxygen: 0.98,
    place: { latitude: 47.9975, longitude: -29.9944, km: 0.4 },
  },
  {
    code: "CP",
    name: "Children's pool",
    water: "pond",
    low: 7.4,
    high: 8.6,
    ph: 8.12,
    temperature_c: 16.4,
    ec: [440, 600],
    oxygen: 1.02,
    place: { latitude: 47.9979, longitude: -29.9938, km: 0.06, branch: "Children's arm" },
  },
  {
    code: "OF",
    name: "Outfall to the mill leat",
    water: "outfall",
    low: 7.3,
    high: 8.4,
    ph: 7.88,
    temperature_c: 14.3,
    ec: [450, 620],
    oxygen: 0.94,
    place: { latitude: 47.9986, longitude: -29.9921, km: 0.62, directions: "Grating and weir: not alone." },
  },
] as const;

/** The ponds lie this high, m. */
export const altitude = 148;

type Channel = NewMeter["channels"][number];

const channel = (measurand: Measurand, change: Partial<Channel> = {}): Channel => ({
  measurand,
  display: "signal",
  compensation: "raw",
  coefficient_percent_per_c: 1.91,
  reference: "agcl-sat",
  nominal_ml: 10,
  resolution: 0.01,
  accuracy: null,
  ...change,
});

/** Instruments; `installed` is in days from today. */
export const meters: (Omit<NewMeter, "installed_on"> & { seed: number; installed: number })[] = [
  {
    code: "P-1",
    name: "Pocket pH meter for the bank",
    place: "field",
    has_cable: false,
    channels: [channel("ph", { display: "value" })],
    installed: -210,
    seed: 11,
  },
  {
    code: "P-2",
    name: "Bench pH meter in the pump house",
    place: "bench",
    has_cable: true,
    channels: [channel("ph")],
    installed: -335,
    seed: 42,
  },
  {
    code: "P-3",
    name: "Spare bench meter, old probe",
    place: "bench",
    has_cable: true,
    channels: [channel("ph")],
    installed: -890,
    seed: 73,
  },
  {
    code: "P-4",
    name: "Training meter, buffers get mixed up",
    place: "bench",
    has_cable: true,
    channels: [channel("ph")],
    installed: -60,
    seed: 91,
  },
  {
    code: "M-1",
    name: "Pond meter: conductivity, pH, oxygen",
    place: "field",
    has_cable: true,
    channels: [channel("conductivity"), channel("ph"), channel("oxygen")],
    installed: -130,
    seed: 57,
  },
  {
    code: "C-1",
    name: "Pocket conductivity meter",
    place: "field",
    has_cable: false,
    channels: [channel("conductivity", { display: "value", compensation: "25-linear", resolution: 1 })],
    installed: -400,
    seed: 21,
  },
  {
    code: "T-1",
    name: "Pond thermometer",
    place: "field",
    has_cable: false,
    channels: [channel("temperature", { display: "value", resolution: 0.1 })],
    installed: -500,
    seed: 22,
  },
  {
    code: "F-1",
    name: "Photometer in the pump house",
    place: "bench",
    has_cable: true,
    channels: [channel("absorbance", { resolution: 0.001 })],
    installed: -300,
    seed: 23,
  },
  {
    code: "V-1",
    name: "Pipette, 10 mL",
    place: "bench",
    has_cable: true,
    channels: [channel("volume", { nominal_ml: 10, resolution: 0.01 })],
    installed: -300,
    seed: 24,
  },
];

interface DemoLot {
  code: string;
  kind: StandardKind;
  material?: string;
  /** Value at 25 °C, where it is not the material's own. */
  value?: number;
  uncertainty: number;
  received: number;
  opened: number | null;
  expires: number;
  shelf: number;
  bottle_ml?: number;
  portion_ml?: number;
  withdrawn?: { day: number; reason: string };
}

const buffer = (
  code: string,
  material: BufferId,
  received: number,
  opened: number | null,
  expires: number,
  shelf: number,
): DemoLot => ({
  code,
  kind: "ph-buffer",
  material,
  uncertainty: material === "borate" ? 0.005 : 0.01,
  received,
  opened,
  expires,
  shelf,
});

/** Lots of standards; days are counted from today. */
export const lots: DemoLot[] = [
  buffer("B4-118", "technical-4", -90, -27, 400, 60),
  buffer("B7-127", "technical-7", -90, -86, 380, 120),
  buffer("B7-098", "technical-7", -420, -130, -40, 180),
  {
    ...buffer("B10-041", "technical-10", -88, -86, 300, 60),
    withdrawn: { day: -32, reason: "Reads low against a fresh bottle: it has taken up carbon dioxide." },
  },
  buffer("B10-055", "technical-10", -32, -31, 420, 45),
  buffer("B9-017", "borate", -90, -86, 390, 120),
  {
    code: "K-147-03",
    kind: "conductivity-standard",
    value: 147,
    uncertainty: 1.5,
    received: -90,
    opened: -86,
    expires: 200,
    shelf: 90,
    bottle_ml: 500,
    portion_ml: 25,
  },
  {
    code: "K-718-09",
    kind: "conductivity-standard",
    value: 718,
    uncertainty: 4,
    received: -90,
    opened: -86,
    expires: 260,
    shelf: 90,
    bottle_ml: 2000,
    portion_ml: 25,
  },
  { code: "Z-31", kind: "zero-oxygen", uncertainty: 0.1, received: -13, opened: -13, expires: 1, shelf: 15 },
  {
    code: "A-030",
    kind: "absorbance-standard",
    value: 0.3,
    uncertainty: 0.003,
    received: -200,
    opened: -190,
    expires: 500,
    shelf: 700,
  },
  {
    code: "A-150",
    kind: "absorbance-standard",
    value: 1.5,
    uncertainty: 0.012,
    received: -200,
    opened: -190,
    expires: 500,
    shelf: 700,
  },
];
