import type { Finding } from "../../judgement/finding";
import type { Voided } from "../evidence";

/** A result that was taken out says so, before anything else. */
export const judgeVoided = (voided: Voided | undefined): Finding[] =>
  voided
    ? [
        {
          rule: "void",
          severity: "hold",
          measured: "taken out",
          limit: "a result that counts",
          sentence: `Taken out by ${voided.by}: ${voided.reason}`,
          action: "",
        },
      ]
    : [];
