import type { Finish } from "@/api/client";

/** What a trial is judged on, as the head of its figures: the share that rooted, mean days, the height. */
export function whatOf(finish: Pick<Finish, "lanes" | "unit">): string {
	if (finish.unit === "points") return `share that ${didOf(finish)}`;
	return finish.unit === "days" ? "mean days of waiting" : (finish.lanes[0]?.score_word ?? "score");
}

/** What the plants of a trial did that reached its goal: rooted, came up, bloomed. */
export const didOf = (finish: Pick<Finish, "lanes">) => finish.lanes[0]?.done ?? "struck";
