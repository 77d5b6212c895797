/** A file, or a pasted sheet, as the body itself: the client must not turn it into JSON. */
export const fileBody = (file: Blob) => ({
	body: file as unknown as string,
	bodySerializer: (sent: unknown) => sent as Blob,
	headers: { "Content-Type": "application/octet-stream" },
});
