/** Where what is left of an analysis goes. */
export const wasteStreams = [
  "back-to-the-water",
  "general",
  "acid-azide",
  "mercury",
  "silver-chromate",
  "plastics",
  "none",
] as const;

export const wasteWords: Record<(typeof wasteStreams)[number], string> = {
  "back-to-the-water": "unreacted water: back where it came from",
  general: "labelled container for reacted samples",
  "acid-azide": "labelled container for acid and azide",
  mercury: "labelled container for mercury waste",
  "silver-chromate": "labelled container for silver and chromate",
  plastics: "tubes and ampoules: container for used plastics and glass",
  none: "nothing to dispose of",
};
