"use strict";
/* The page of one garden. As a file it sends nothing; opened by a join link (pack.join) it joins, and
   sends what is entered to the server that gave the link, now or when there is a signal again. */
const at = (id) => document.getElementById(id);
const pack = JSON.parse(at("pack").textContent);
const isOnline = Boolean(pack.join);
const key = "racecard-garden-" + (pack.join || pack.key); // each link is a garden of its own
const names = pack.treatments.map((t) => t[0]);
const text = (id, says) => { at(id).textContent = says; };
/* What is entered is kept twice: in localStorage, which is read before the page is shown but may not
   have written yet when the page is left, and in the phone's database, which says when it has it (and
   which some browsers refuse a page opened from a file). Of the two, the later is read. */
let state = {};
try { state = JSON.parse(localStorage.getItem(key)) || {}; } catch { state = {}; }
const database = new Promise((resolve) => {
	try {
		const asked = indexedDB.open("racecard-gardens", 1);
		asked.onupgradeneeded = () => asked.result.createObjectStore("gardens");
		asked.onsuccess = () => resolve(asked.result);
		asked.onerror = () => resolve(null);
	} catch { resolve(null); }
});
/* One step on the kept gardens: its answer, or undefined where the database refused. */
async function kept(mode, step) {
	const open = await database;
	if (!open) return undefined;
	return new Promise((resolve) => {
		try {
			const deal = open.transaction("gardens", mode);
			const asked = step(deal.objectStore("gardens"));
			deal.oncomplete = () => resolve({ value: asked.result });
			deal.onabort = () => resolve(undefined);
		} catch { resolve(undefined); }
	});
}
async function save() {
	const turn = (state.turn || 0) + 1;
	state.turn = turn;
	text("kept", "");
	let isCopied = true;
	try { localStorage.setItem(key, JSON.stringify(state)); } catch { isCopied = false; }
	const said = JSON.stringify(state);
	const isKept = Boolean(await kept("readwrite", (gardens) => gardens.put(said, key))) || isCopied;
	if (state.turn !== turn) return; // a later entry is being kept
	text(isKept ? "kept" : "fault", isKept ? "Kept on this device." : "This browser keeps nothing: write the counts down on paper too, and " + (isOnline ? "send them" : "save your file") + " before you close the page.");
}
const list = pack.pots.slice(0, names.length).split("");
text("about", pack.material + ". One garden is one small comparison: " + names.length + " pots side by side.");
text("make", "Make up " + names.length + " pots as alike as you can, " + pack.each + " " + pack.thing + " in each, and mark them " + list.join(", ") + ". What is done to each:");
for (const [name, does] of pack.treatments) {
	const li = document.createElement("li");
	li.textContent = does ? name + ": " + does : name;
	at("arms").append(li);
}
for (const says of pack.cautions) {
	const p = document.createElement("p");
	p.textContent = "Take care. " + says;
	at("cautions").append(p);
}
text("ask", "On day " + pack.days + ", count those that " + pack.done + ", of all " + pack.each + " you set, the dead included.");
text("version", "Pack " + pack.key + ", version " + pack.version + ". This page works without a signal.");
const inputs = list.map((pot) => {
	const label = document.createElement("label");
	label.textContent = "Pot " + pot + ": how many " + pack.done + ", of " + pack.each;
	const input = document.createElement("input");
	input.inputMode = "numeric";
	input.id = "pot-" + pot;
	label.append(input);
	at("pots").append(label);
	return input;
});
function drawn() {
	if (isOnline) return { garden: String(state.number), order: state.sealed, by: "sealed" };
	const number = Number(at("number").value);
	const given = Number.isInteger(number) && number >= 1 ? pack.orders[number - 1] : undefined;
	if (given) return { garden: String(number), order: given, by: "sealed" };
	const order = names.map((_, i) => i);
	for (let i = order.length - 1; i > 0; i--) {
		const roll = new Uint32Array(1);
		crypto.getRandomValues(roll);
		const j = roll[0] % (i + 1);
		[order[i], order[j]] = [order[j], order[i]];
	}
	const code = new Uint32Array(1);
	crypto.getRandomValues(code);
	return { garden: "own-" + code[0].toString(36), order, by: "own toss" };
}
at("toss").addEventListener("click", () => {
	if (state.order) return;
	if (isOnline && !state.sealed) {
		text("order", "Press “Take part” first: your garden gets its number and its order there.");
		return;
	}
	const said = at("number").value.trim();
	if (!isOnline && said && !pack.orders[Number(said) - 1]) {
		text("order", "There is no garden " + said + ": use the number you were given, 1 to " + pack.orders.length + ", or leave it empty.");
		return;
	}
	Object.assign(state, drawn());
	save();
	show();
});
const iso = (d) => d.getFullYear() + "-" + String(d.getMonth() + 1).padStart(2, "0") + "-" + String(d.getDate()).padStart(2, "0");
at("today").addEventListener("click", () => { state.began = iso(new Date()); save(); show(); report(); });
at("began").addEventListener("change", () => report());
for (const id of isOnline ? ["began", "counted", "remarks"] : ["number", "began", "counted", "remarks"]) at(id).addEventListener("input", () => { state[id] = at(id).value; save(); if (id === "began") show(); });
inputs.forEach((input, i) => input.addEventListener("input", () => { (state.counts = state.counts || [])[i] = input.value; save(); }));
function due() {
	const day = new Date(state.began + "T12:00:00");
	day.setDate(day.getDate() + pack.days);
	return day;
}
function show() {
	for (const id of ["number", "began", "counted", "remarks"]) at(id).value = state[id] || "";
	inputs.forEach((input, i) => { input.value = (state.counts || [])[i] || ""; });
	at("toss").disabled = Boolean(state.order);
	at("number").disabled = Boolean(state.order);
	at("join").disabled = Boolean(state.key);
	if (isOnline) text("joined", state.key ? "You are garden " + state.number + "." : "");
	text("order", state.order ? state.order.map((arm, i) => "Pot " + list[i] + ": " + names[arm]).join(". ") + ". (Garden " + state.garden + ")" : "");
	const isBegun = /^\d{4}-\d{2}-\d{2}$/.test(state.began || "");
	at("calendar").hidden = !isBegun;
	text("due", isBegun ? "Count on " + due().toLocaleDateString() + "." : "");
	if (isBegun) {
		const day = iso(due()).replaceAll("-", "");
		const lines = ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//Racecard//garden//EN", "BEGIN:VEVENT", "UID:" + pack.key + "-" + (state.garden || "garden"), "DTSTAMP:" + day + "T000000Z", "DTSTART;VALUE=DATE:" + day, "SUMMARY:Count the pots", "END:VEVENT", "END:VCALENDAR", ""];
		at("calendar").href = "data:text/calendar;charset=utf-8," + encodeURIComponent(lines.join("\r\n"));
	}
}
function fault() {
	if (!state.order) return "Toss first (step 2): without it nobody knows which pot got what.";
	if (!/^\d{4}-\d{2}-\d{2}$/.test(state.began || "")) return "Enter the day you began (step 3).";
	if (!/^\d{4}-\d{2}-\d{2}$/.test(state.counted || "")) return "Enter the day you counted (step 4).";
	if (state.counted < state.began) return "The count lies before the start: check both dates.";
	const bad = list.find((_, i) => !/^\d+$/.test((state.counts || [])[i] || "") || Number(state.counts[i]) > pack.each);
	return bad ? "Pot " + bad + ": enter a whole number from 0 to " + pack.each + "." : "";
}
const cell = (v) => { const s = String(v ?? ""); const safe = /^[=+\-@\t\r]/.test(s) ? "'" + s : s; return /[",\n]/.test(safe) ? '"' + safe.replaceAll('"', '""') + '"' : safe; };
function give(status) {
	const counts = names.map((_, arm) => (state.order ? (state.counts || [])[state.order.indexOf(arm)] : ""));
	const heads = ["Garden", "Started on", "Counted on", "How many " + pack.thing, ...names, "Status", "Remarks", "Order", "Pack"];
	const order = state.order ? state.order.map((arm, i) => list[i] + " " + names[arm]).join("; ") + " (" + state.by + ")" : "";
	const row = [state.garden || state.number || "unnamed", state.began, status ? "" : state.counted, pack.each, ...(status ? names.map(() => "") : counts), status, state.remarks, order, pack.key + " v" + pack.version];
	const link = document.createElement("a");
	link.href = URL.createObjectURL(new Blob([[heads, row].map((r) => r.map(cell).join(",")).join("\r\n") + "\r\n"], { type: "text/csv" }));
	link.download = "garden-" + (state.garden || "unnamed") + ".csv";
	link.click();
}
const send = (status) => { if (isOnline) { state.status = status; state.whole = !status; report(); } else give(status); };
at("send").addEventListener("click", () => { const why = fault(); text("fault", why); if (!why) send(""); });
at("withdraw").addEventListener("click", () => { text("fault", ""); send("withdrawn"); });
at("forget").addEventListener("click", async () => {
	text("fault", "");
	if (isOnline && state.key) {
		const gone = await ask("DELETE", "/report", undefined);
		if (!gone.ok) { text("fault", gone.says); return; }
	}
	try { localStorage.removeItem(key); } catch { /* nothing was kept there */ }
	await kept("readwrite", (gardens) => gardens.delete(key));
	state = {};
	text("kept", "");
	text("sent", isOnline ? "Deleted here and on the server." : "");
	show();
});

/* joined over the server: everything below is used only with a join link */
async function ask(method, path, body) {
	try {
		const headers = { "content-type": "application/json" };
		if (state.key) headers["x-garden-key"] = state.key;
		const answer = await fetch(pack.join + path, { method, headers, body: body && JSON.stringify(body) });
		const told = answer.status === 204 ? {} : await answer.json().catch(() => ({}));
		return { ok: answer.ok, told, says: told.detail || "The server did not understand: try again later." };
	} catch {
		return { ok: false, isAway: true, says: "No signal. Nothing is lost: try again when there is one." };
	}
}
async function report() {
	if (!isOnline || !state.key || !/^\d{4}-\d{2}-\d{2}$/.test(state.began || "")) return;
	state.unsent = true;
	save();
	const isWhole = state.whole && !state.status && !fault(); // counts may be half corrected
	const counts = isWhole ? names.map((_, arm) => Number(state.counts[state.order.indexOf(arm)])) : [];
	const body = { began: state.began, counted: isWhole ? state.counted : null, counts, status: state.status || "", remarks: state.remarks || "" };
	const sent = await ask("POST", "/report", body);
	if (sent.ok) state.unsent = false;
	save();
	text("sent", sent.ok
		? state.status ? "The server knows that you stop. Thank you." : isWhole ? "Your result has arrived. Thank you." : "The server knows that you have begun."
		: sent.isAway ? "No signal: kept on this phone, and sent when there is one again." : "");
	if (!sent.ok && !sent.isAway) text("fault", sent.says);
}
at("join").addEventListener("click", async () => {
	if (state.key) return;
	const joined = await ask("POST", "/join", {});
	if (!joined.ok) { text("joined", joined.says); return; }
	Object.assign(state, { number: joined.told.number, key: joined.told.key, sealed: joined.told.order });
	save();
	show();
});
kept("readonly", (gardens) => gardens.get(key)).then((found) => {
	const stored = JSON.parse(found?.value || "{}");
	if ((stored.turn || 0) <= (state.turn || 0)) return;
	state = stored;
	show();
});
if (isOnline) {
	at("join-part").hidden = false;
	at("number-label").hidden = true;
	text("send", "Send my result");
	text("withdraw", "I stop: tell the server");
	text("forget", "Delete everything, here and on the server");
	text("privacy", "Sent to the server that gave you this page: your garden’s number, that you have begun and when, the day you counted, the counts and your remark; no name, no place. What is published are counts of all gardens together.");
	window.addEventListener("online", () => { if (state.unsent) report(); });
	if (state.unsent) report();
	if ("serviceWorker" in navigator) {
		// what was loaded before the worker was there is asked for once more, through it
		const again = () => Promise.all([fetch(location.href), fetch("/garden/page.js")]);
		navigator.serviceWorker.addEventListener("controllerchange", () => again().catch(() => {}));
		navigator.serviceWorker.register("/garden/worker.js").catch(() => {}); // without trust in the certificate the page needs a signal
	}
}
show();
