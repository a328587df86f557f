/** What a person may be at the bench. */
export const roles = ["technician", "reviewer", "manager", "read-only"] as const;
export type Role = (typeof roles)[number];

/** Who does something: written into the journal with it. A person is one. */
export interface Actor {
  id: string;
  role: Role;
}

/** Everything that changes a record, by what it is for. */
export type Right =
  | "measure"
  | "void"
  | "stock"
  | "instruments"
  | "amend"
  | "review"
  | "rejudge"
  | "limits"
  | "methods"
  | "rules"
  | "sites"
  | "people"
  | "upkeep"
  | "import";

/** The one table of what each role may do. Looking, choosing colours and calculating need no right. */
export const rights: Record<Right, { may: readonly Role[]; words: string }> = {
  measure: { may: ["technician", "reviewer", "manager"], words: "calibrate, read and run tests" },
  stock: { may: ["technician", "reviewer", "manager"], words: "register and change lots" },
  instruments: { may: ["technician", "reviewer", "manager"], words: "register meters and their service" },
  void: { may: ["technician", "reviewer", "manager"], words: "take results out" },
  amend: { may: ["technician", "reviewer", "manager"], words: "amend results, with a reason" },
  review: { may: ["reviewer", "manager"], words: "review and sign" },
  rejudge: { may: ["reviewer", "manager", "technician"], words: "judge readings anew" },
  limits: { may: ["technician", "reviewer", "manager"], words: "set the limits of a control chart" },
  methods: { may: ["manager"], words: "change methods, recipes and bottles" },
  rules: { may: ["manager"], words: "change house rules and limits" },
  sites: { may: ["technician", "reviewer", "manager"], words: "add sites" },
  import: { may: ["technician", "reviewer", "manager"], words: "bring in results from files" },
  upkeep: { may: ["manager"], words: "make backups, give keys to programs, look after the machine" },
  people: { may: ["manager"], words: "add people, give passwords, change what people do" },
};

export const may = (actor: Pick<Actor, "role">, right: Right): boolean =>
  rights[right].may.includes(actor.role);

/** Somebody tried what their role does not do. */
export class Forbidden extends Error {
  constructor(
    readonly right: Right,
    role: Role,
  ) {
    super(
      `With the role “${role}” you may look, but not ${rights[right].words}. Ask a ${rights[right].may[0]}.`,
    );
    this.name = "Forbidden";
  }
}

/** Throws {@link Forbidden} unless the actor may. */
export function allow(actor: Pick<Actor, "role">, right: Right): void {
  if (!may(actor, right)) throw new Forbidden(right, actor.role);
}

/** Which right each address needs that changes something. What is not here changes nothing, for anybody. */
const routeRights: [RegExp, Right][] = [
  [/^\/(bench|unreadable)\//, "measure"],
  [/^\/devices\//, "measure"],
  [/^\/meters\/[^/]+\/(calibrate|check|read)$/, "measure"],
  [/^\/meters\//, "instruments"],
  [/^\/(calibrations|checks|services)\//, "rejudge"],
  [/^\/readings\//, "void"],
  [/^\/runs\/(new\/|plan$)/, "measure"],
  [/^\/runs\//, "void"],
  [/^\/(visits|samples|custody)(\/|$)/, "measure"],
  [/^\/(methods|bottles|stock\/recipes)\//, "methods"],
  [/^\/solutions\//, "measure"],
  [/^\/quality(\/|$)/, "measure"],
  [/^\/stock\//, "stock"],
  [/^\/sites\/limits(\/|$)/, "rules"],
  [/^\/sites(\/|$)/, "sites"],
  [/^\/rules$/, "rules"],
  [/^\/records\/[^/]+$/, "amend"],
  [/^\/(review|journal)(\/|$)/, "review"],
  [/^\/imports(\/|$)/, "import"],
  [/^\/(upkeep|keys)$/, "upkeep"],
  [/^\/people$/, "people"],
];

/** The right that posting to an address needs; null where nothing can be posted. A page's own data has the same right. */
export const rightOfRoute = (pathname: string): Right | null =>
  routeRights.find(([path]) => path.test(pathname.replace(/\.data$/, "")))?.[1] ?? null;
