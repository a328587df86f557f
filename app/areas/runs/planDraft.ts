/** Where the draft of a plan is kept in this browser until it is started. */
export const draftKey = "brintel:plan";
