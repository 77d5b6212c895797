import { Button } from "@mantine/core";
import { Component, type ReactNode } from "react";

interface PageGuardProps {
	children: ReactNode;
}

/** Catches a fault of one page inside the frame, so that the other pages stay within reach. */
export class PageGuard extends Component<PageGuardProps, { fault: Error | null }> {
	override state = { fault: null as Error | null };

	static getDerivedStateFromError(fault: unknown) {
		return { fault: fault instanceof Error ? fault : new Error(String(fault)) };
	}

	override render() {
		const { fault } = this.state;
		if (!fault) return this.props.children;
		return (
			<section role="alert">
				<h1>This page has a fault</h1>
				<p>
					Nothing that was saved is lost, and what was tapped waits on this device. Load the page
					again; if it fails again, use another page and report these words:
				</p>
				<p>
					<code>{fault.message}</code>
				</p>
				<Button onClick={() => window.location.reload()}>Load the page again</Button>
			</section>
		);
	}
}
