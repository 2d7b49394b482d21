/** What a read-back found. */

/** One comparison, written for people. */
export interface ReadBackCheck {
  what: string;
  sent: string;
  found: string;
  holds: boolean;
  /** What else is to be said of it. */
  note?: string;
}

export interface ReadBack {
  holds: boolean;
  checks: ReadBackCheck[];
  /** The first differences by name, where there are any. */
  differences: string[];
}
