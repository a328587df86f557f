import type { NewEvent } from "../../../core/bench/event";
import type { CustodyEvent } from "../../../core/samples/custodyEvents";

export type AddCustody = (event: NewEvent<CustodyEvent>) => void;
