/** Where the draft of a plan is kept in this browser until it is started. */
export const draftKey = "brintel:plan";

/** So many tests one plan holds. */
export const mostTests = 20;
