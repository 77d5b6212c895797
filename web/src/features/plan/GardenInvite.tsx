import { Button } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, body, type Schemas } from "@/api/client";
import { ofTrial } from "@/api/keys";
import { count } from "@/core/text";
import { ProblemAlert } from "@/ui/ProblemAlert";
import { Link } from "@/ui/routing";
import styles from "./Plan.module.css";

type Invite = Schemas["InviteOut"];

/** The join link of a trial: made, shown as a square, told who joined, closed. */
export function GardenInvite({ trialId, gardens }: { trialId: string; gardens: number }) {
	const queries = useQueryClient();
	const params = { path: { trial_id: trialId } };
	const key = ofTrial(trialId, "invite");
	const { data: invite, error } = useQuery({
		queryKey: key,
		queryFn: () => body(api.GET("/api/gardens/invites/{trial_id}", { params })),
	});
	const keep = (found: Invite) => queries.setQueryData(key, found);
	const open = useMutation({
		mutationFn: () =>
			body(api.POST("/api/gardens/invites/{trial_id}", { params, body: { gardens } })),
		onSuccess: keep,
	});
	const close = useMutation({
		mutationFn: () => body(api.POST("/api/gardens/invites/{trial_id}/close", { params })),
		onSuccess: keep,
	});
	const isOpen = invite != null && invite.closed_at === null;
	return (
		<>
			{invite && <Joined invite={invite} trialId={trialId} />}
			<div className={styles.packWays}>
				{isOpen ? (
					<Button variant="default" onClick={() => close.mutate()} loading={close.isPending}>
						Close the link
					</Button>
				) : (
					<Button onClick={() => open.mutate()} loading={open.isPending}>
						{invite ? "Make a new join link" : "Make a join link"}
					</Button>
				)}
			</div>
			<ProblemAlert error={open.error ?? close.error ?? error} />
		</>
	);
}

function Joined({ invite, trialId }: { invite: Invite; trialId: string }) {
	const t = invite.turnout;
	const isOpen = invite.closed_at === null;
	return (
		<div className={styles.invite}>
			{isOpen && (
				<>
					<div
						role="img"
						aria-label="The join link as a square code"
						className={styles.square}
						// biome-ignore lint/security/noDangerouslySetInnerHtml: an SVG the server drew from the address
						dangerouslySetInnerHTML={{ __html: invite.square }}
					/>
					<p className={styles.address}>
						<a href={invite.url}>{invite.url}</a>
						{!invite.is_reachable && (
							<span className="muted">
								{" "}
								Only this computer can open it: start Racecard with --shed to let phones in.
							</span>
						)}
					</p>
				</>
			)}
			<p role="status">
				{isOpen ? "" : "The link is closed. "}
				{t.enrolled} of {count(invite.most, "place")} taken: {t.started} begun, {t.returned} with a
				result, {t.silent} without one, {t.withdrawn} stopped.
			</p>
			{invite.changed && (
				<p role="alert" className={styles.changed}>
					{invite.changed}
					{isOpen && " For the plan as it is now, close this link and make another."}
				</p>
			)}
			{t.returned > 0 && (
				<Button component={Link} to={`/trials/gardens?invite=${trialId}`} variant="default">
					Read their results
				</Button>
			)}
		</div>
	);
}
