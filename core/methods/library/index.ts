import { type Method, methodSchema } from "../method";
import { fieldMethods } from "./field";
import { hardnessMethods } from "./hardness";
import { mineralMethods } from "./minerals";
import { nutrientMethods } from "./nutrients";
import { oxygenMethods } from "./oxygen";

/** The methods that ship: generic, each with its provenance. A copy may be edited; these stay as they are. */
export const methodLibrary: readonly Method[] = [
  ...oxygenMethods,
  ...nutrientMethods,
  ...mineralMethods,
  ...hardnessMethods,
  ...fieldMethods,
].map((method) => methodSchema.parse(method));
