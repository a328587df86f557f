import { deflateRawSync, inflateRawSync } from "node:zlib";

/**
 * What the documents have in common, oldest and rarest first: the compressor points back into it. It is part of the
 * format and never changes; a better one gets the next number.
 */
const dictionary1 = Buffer.from(
  '{"rule":"offset","severity":"ok","measured":"","limit":"within ±15 mV sound, ±30 mV with a note","sentence":"","action":""},{"rule":"slope","severity":"ok","measured":"98.4 %","limit":"95 – 102 % sound, 90 – 105 % with a note","sentence":"Slope ' +
    '"figures":[{"key":"slope_percent","label":"slope","value":,"unit":"%","decimals":1,"signed":false},{"key":"offset_mv","label":"offset","value":-,"unit":"mV","decimals":1,"signed":true},{"key":"slope_mv","label":"at 20.5 °C","value":-,"unit":"mV/pH","decimals":2,"signed":true}],"diagnoses":[],"low":7.018,"high":10.055},"findings":[' +
    '"coefficients":{"kind":"ph","slope_percent":,"offset_mv":-,"segments":null},"true_value":,"signal":-,"as_found":null,"as_left":null,"found":,"temperature_c":20.5,"steady":true,"seconds_to_steady":64,"scatter":0.03,"source":"live","rinsed":true,"captured_at":"2026-","captured_by":"01' +
    '{"result":{"measurand":"ph","basis":"signal","points":[{"station":0,"measurand":"ph","role":"point","standard":{"id":"01,"version":1,"kind":"ph-buffer","measurand":"ph","code":"","name":"Technical 7.00","material":"technical-7","reference":null,"nominal":7,"uncertainty":0.01,"table":[{"temperature_c":0,"value":7.12},{"temperature_c":5,"value":7.09},{"temperature_c":10,"value":7.06},{"temperature_c":15,"value":7.04},{"temperature_c":20,"value":7.02},{"temperature_c":25,"value":7},{"temperature_c":30,"value":6.99},{"temperature_c":35,"value":6.98},{"temperature_c":40,"value":6.97}],"opened_on":"2026-","good_until":"2026-12-30","condition":"good","condition_sentence":"Good until 30 Dec 2026.","reason_for_use":null},' +
    '"purpose":"calibration","moment":null,"expected":{"ph":{"low":7.1,"high":8.6},"conductivity":{"low":440,"high":680}},"conditions":null,"history":{"ph_slope":{"percent":,"at":"2026-"},"oxygen_first_sensitivity":null,"oxygen_zero":null,"last_good":{"ph":"2026-"}},"calibrations":[],"refs":{"meter":"","plan":"","method":"","calibrations":"' +
    '{"source":"analysis","run_id":"01","method":{"id":"","version":1,"name":"","technique":"photometer","range":{"low":0.2,"high":10},"detection_limit":0.2,"over_range":"dilute","temperature_c":[10,30],"replicates":1,"provenance":"invented for the demo: common practice"},"result":{"parameter":"nitrate","analyte":"Nitrate","species":"NO3-N","unit":"mg/L","decimals":1},"replicates":[{"found":{"kind":"interval","low":0.5,"high":1},{"kind":"value","value":},"working":[""],"raw":{"kind":"colour","scale":0,"step":2,"place":"between"},"read_at":"2026-","by":"01","drops":null,"second":null,"agreed":false,"discarded":false,"back_titrated":false,"skipped":[],"timings":[{"name":"Reading ","reading":true,"due_s":180,"after_s":180,"early_s":0,"late_s":0}]}],"reported":{"kind":"interval","low":0.5,"high":1},"pair":null,"difference":null,"duplicates":{"kind":"overlap"},"temperature_c":20,"dilution":1,"dilutes":null,"lots":[{"material":"","name":"","code":"","expires_on":"2027-","reason":null}],"unnamed":[],"control":null,"curve":null,"strength":null,"blank_ml":null,"table":null,"expected":null,"disagree":"retest",' +
    '{"parameter":"conductivity","meter":{"id":"01","code":"M-1","name":"","display":"signal"},"portions":[{"value":,"signal":,"displayed":null,"temperature_c":13.7,"steady":true,"seconds_in_solution":60,"source":"live","rinsed":true,"at":"2026-","by":"01"}],"outcome":{"pair":[0,1],"difference":,"mean":,"next":"accept"},"duplicate":{"kind":"relative","limit":5},{"kind":"absolute","limit":0.1},"compensation":"brought to 25 °C as natural waters behave","usual":{"low":,"high":},"measured_at":"2026-","finished_at":"2026-","collected_at":null}' +
    '["01","started","2026-","2026-","01",{"measurands":["conductivity","ph","oxygen"],"site":{"id":"01","name":""},"sample":"","duplicates":{"ph":{"kind":"absolute","limit":0.1},"conductivity":{"kind":"relative","limit":5},"oxygen":{"kind":"absolute","limit":0.6}},"compensation":{"model":"natural","percent_per_c":1.91},"refs":{"meter":"","calibrations":""}}],' +
    '["01","done",{"replicate":0,"step":"blank"}],["01","read",{"replicate":0,"step":"read","raw":{"kind":"number","value":}}],["01","drop",{"replicate":0}],' +
    '["01","rinsed","2026-","2026-","01",{"station":0}],["01","placed","2026-",{"station":1}],["01","captured","2026-:00.000Z",null,"2026-:00.000Z","01M",{"station":0,"capture":{"source":"typed","values":[{"measurand":"conductivity","signal":null,"displayed":,"adjusted":null,"reference":null,"scatter":null,"per_min":null},{"measurand":"oxygen",{"measurand":"ph","signal":-,"displayed":null,"adjusted":null,"reference":null,"scatter":0.03,"per_min":0.006}],"temperature_c":,"steady":true,"seconds_in_solution":60}}],["01","finished","2026-",null,"2026-","01",{}]]',
);
const dictionaries = [dictionary1];

/** The newest kind and its dictionary, for who packs by bulk. */
export const packKind = dictionaries.length;
export const packDictionary = dictionary1;

/** Documents that are written once and read seldom are kept small: a byte that names the dictionary, then RFC 1951. */
export const pack = (value: unknown): Buffer =>
  Buffer.concat([
    Buffer.from([packKind]),
    deflateRawSync(JSON.stringify(value), { level: 9, dictionary: packDictionary }),
  ]);

export function unpack<T>(packed: Uint8Array): T {
  const dictionary = dictionaries[(packed[0] ?? 0) - 1];
  if (!dictionary) throw new Error(`A packed document of an unknown kind (${packed[0]}).`);
  return JSON.parse(inflateRawSync(packed.subarray(1), { dictionary }).toString("utf8")) as T;
}
