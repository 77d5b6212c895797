/**
 * Moving between pages: wouter holds the address; here are the links of the whole page, the order
 * of the history, the place on a page one comes back to, and the question before one leaves.
 */
import {
	type AnchorHTMLAttributes,
	type ComponentType,
	createContext,
	type Ref,
	useCallback,
	useContext,
	useEffect,
	useLayoutEffect,
	useState,
} from "react";
import { matchRoute, Router, useRouter, Link as WouterLink } from "wouter";
import {
	useHistoryState,
	useLocationProperty,
	navigate as write,
} from "wouter/use-browser-location";

export { useSearchParams } from "wouter";

type Params = Readonly<Record<string, string | undefined>>;

interface Options {
	replace?: boolean;
	state?: unknown;
}

/** What each entry of the history holds: its place in the order, and what the page gave it. */
interface Entry {
	place: number;
	given: unknown;
}

/** Asked in place of leaving the page; `goOn` leaves it after all. */
let guard: ((goOn: () => void) => void) | null = null;
const scrolls = new Map<number, number>();
let here = { path: location.pathname, place: placeOf(0) };

/** The place of the entry one is at; one that has none, such as a jump within a page, is given it. */
function placeOf(otherwise: number): number {
	const kept = history.state as Partial<Entry> | null;
	if (kept?.place !== undefined) return kept.place;
	history.replaceState({ place: otherwise, given: undefined } satisfies Entry, "");
	return otherwise;
}

/** Goes to an address of the application, unless the page one is on asks to stay. */
export function go(to: string, { replace = false, state }: Options = {}) {
	const { href, pathname } = new URL(to, location.href);
	const move = () => {
		scrolls.set(here.place, window.scrollY);
		const isHere = replace || href === location.href;
		const place = isHere ? here.place : here.place + 1;
		if (!isHere) scrolls.delete(place);
		here = { path: pathname, place };
		write(to, { replace: isHere, state: { place, given: state } satisfies Entry });
	};
	if (guard && pathname !== here.path) guard(move);
	else move();
}

// heard before anything else hears it: a page that asks to stay is put back as if nothing had been
window.addEventListener(
	"popstate",
	(e) => {
		const place = placeOf(here.place + 1);
		const path = location.pathname;
		const steps = place - here.place;
		if (guard && path !== here.path && steps !== 0) {
			e.stopImmediatePropagation();
			history.go(-steps);
			guard(() => history.go(steps));
			return;
		}
		scrolls.set(here.place, window.scrollY);
		here = { path, place };
	},
	{ capture: true },
);
const byHand = () => {
	history.scrollRestoration = "manual";
};
byHand();
window.addEventListener("pageshow", byHand); // also where the browser kept the page as it was
window.addEventListener("pagehide", () => {
	history.scrollRestoration = "auto"; // a reload finds its place by the browser's own memory
});

/** The address as it stands, and what the page that led here gave along. */
export function useLocation() {
	const pathname = useLocationProperty(() => location.pathname);
	const search = useLocationProperty(() => location.search);
	const hash = useLocationProperty(() => location.hash);
	const state = (useHistoryState() as Entry | null)?.given;
	return { pathname, search, hash, state };
}

export function useNavigate() {
	return go;
}

export interface LinkProps extends Omit<AnchorHTMLAttributes<HTMLAnchorElement>, "href"> {
	to: string;
	replace?: boolean;
	state?: unknown;
	ref?: Ref<HTMLAnchorElement>;
}

export function Link({ to, ...rest }: LinkProps) {
	return <WouterLink href={to} {...rest} />;
}

export interface NavLinkProps extends LinkProps {
	/** Only this very page counts as being there, not those under it. */
	end?: boolean;
}

/** A link that says when one is on its page or on one under it. */
export function NavLink({ end = false, ...rest }: NavLinkProps) {
	const { pathname } = useLocation();
	const isThere = pathname === rest.to || (!end && pathname.startsWith(`${rest.to}/`));
	return <Link aria-current={isThere ? "page" : undefined} {...rest} />;
}

/** Goes on to another page at once. */
export function Navigate({ to, replace = false }: { to: string; replace?: boolean }) {
	useEffect(() => go(to, { replace }), [to, replace]);
	return null;
}

const ParamsOfPage = createContext<Params>({});

/** The parts of the address that name what the page is about. */
export function useParams<Names extends Params = Params>(): Names {
	return useContext(ParamsOfPage) as Names;
}

/** While `isWanted`, leaving the page opens a question: `stay` or `leave` answers it. */
export function useLeaveGuard(isWanted: boolean) {
	const [kept, keep] = useState<(() => void) | null>(null);
	useEffect(() => {
		if (!isWanted) return;
		guard = (goOn) => keep(() => goOn);
		return () => {
			guard = null;
		};
	}, [isWanted]);
	const leave = useCallback(() => {
		guard = null;
		keep(null);
		kept?.();
	}, [kept]);
	return { isAsked: kept !== null, stay: () => keep(null), leave };
}

/** A page and the address it stands at, such as `/trials/:trialId/plan`. */
export interface PageAt {
	path: string;
	load: () => Promise<ComponentType>;
}

interface Shown {
	Page: ComponentType;
	params: Params;
	pathname: string;
}

export interface PagesProps {
	pages: readonly PageAt[];
	/** In place of the first page while it loads; later the old page stays until the new one is there. */
	waiting: React.ReactNode;
	nothing: ComponentType;
	children: (page: React.ReactNode, pathname: string) => React.ReactNode;
}

type Parser = ReturnType<typeof useRouter>["parser"];

/** The page at an address, with the parts of the address that name what it is about. */
function pageAt(pages: readonly PageAt[], pathname: string, parser: Parser) {
	for (const { path, load } of pages) {
		const [matches, params] = matchRoute(parser, path, pathname);
		if (matches) return { load, params: params as Params };
	}
	return undefined;
}

/** Loads the page that is asked for and shows it, at the place where it was left. */
export function Pages({ pages, waiting, nothing, children }: PagesProps) {
	const { pathname } = useLocation();
	const { parser } = useRouter();
	const [shown, setShown] = useState<Shown>();
	useState(() => {
		// the first page is on its way before its frame is drawn; where that fails is heard below
		void pageAt(pages, pathname, parser)
			?.load()
			.catch(() => {});
	});
	useEffect(() => {
		let isCurrent = true;
		const show = (Page: ComponentType, params: Params) => {
			if (isCurrent) setShown({ Page, params, pathname });
		};
		const asked = pageAt(pages, pathname, parser);
		if (asked)
			asked
				.load()
				.catch((error: unknown) => () => {
					throw error; // within the frame, where the other pages stay within reach
				})
				.then((Page) => show(Page, asked.params));
		else show(nothing, {});
		return () => {
			isCurrent = false;
		};
	}, [pages, nothing, parser, pathname]);
	useLayoutEffect(() => {
		if (!shown) return;
		const mark = location.hash && document.getElementById(location.hash.slice(1));
		if (mark) mark.scrollIntoView();
		else window.scrollTo(0, scrolls.get(here.place) ?? 0);
	}, [shown]);
	const page = shown ? <shown.Page /> : waiting;
	return (
		<Router aroundNav={(_, to, options) => go(to, options)}>
			<ParamsOfPage value={shown?.params ?? {}}>
				{children(page, shown?.pathname ?? pathname)}
			</ParamsOfPage>
		</Router>
	);
}
