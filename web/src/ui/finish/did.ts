import type { Finish } from "@/api/client";

/** What the plants of a trial did that reached its goal: rooted, came up, bloomed. */
export const didOf = (finish: Pick<Finish, "lanes">) => finish.lanes[0]?.done ?? "struck";
