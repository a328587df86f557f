import type { ReactNode } from "react";
import { Formula } from "./Formula";

const labelRender = ({ label }: { label?: ReactNode }) => <Formula>{String(label ?? "")}</Formula>;

/** What makes a choice write the formulas of its names as they are written, in its list and when one is chosen. */
export const withFormulas = { labelRender, optionRender: labelRender };
