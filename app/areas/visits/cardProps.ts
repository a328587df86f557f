import type { NewEvent } from "../../../core/bench/event";
import type { VisitState } from "../../../core/samples/visit";
import type { VisitEvent } from "../../../core/samples/visitEvents";
import type { Todo } from "../../../core/samples/visitTodo";

export type AddVisit = (event: NewEvent<VisitEvent>) => void;

export interface CardProps {
  todo: Todo;
  state: VisitState;
  now: number;
  add: AddVisit;
}
