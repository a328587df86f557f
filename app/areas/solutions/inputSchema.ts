/** The part of a JSON Schema that calculators use: objects of numbers, choices, groups of which one counts, and lists of objects. */
export interface InputSchema {
  type?: string;
  title?: string;
  unit?: string;
  enum?: string[];
  /** What holds when nothing is chosen. */
  default?: unknown;
  properties?: Record<string, InputSchema>;
  items?: InputSchema;
  /** One of several groups of inputs. */
  anyOf?: InputSchema[];
}
