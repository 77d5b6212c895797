import { createTheme, type MantineColorsTuple } from "@mantine/core";

const moss: MantineColorsTuple = [
	"#f1f5ec",
	"#e2ecd2",
	"#c9dbb2",
	"#aec68f",
	"#93b170",
	"#7b9c57",
	"#648446",
	"#4d6b3c",
	"#43602f",
	"#334a24",
]; // prettier-ignore
const clay: MantineColorsTuple = [
	"#fbeee5",
	"#f3dccb",
	"#e8bda0",
	"#dc9c74",
	"#cf7d4e",
	"#bd6233",
	"#b3552b",
	"#a94d26",
	"#94401d",
	"#743116",
]; // prettier-ignore

export const theme = createTheme({
	colors: { moss, clay },
	primaryColor: "moss",
	primaryShade: { light: 7, dark: 7 },
	defaultRadius: 10,
	fontFamily: "'Atkinson Hyperlegible Next Variable', sans-serif",
	headings: { fontFamily: "'Bitter Variable', serif", fontWeight: "700" },
	components: {
		Button: { defaultProps: { size: "md" } },
		TextInput: { defaultProps: { size: "md" } },
		Textarea: { defaultProps: { size: "md" } },
		NativeSelect: { defaultProps: { size: "md" } },
		Popover: {
			defaultProps: { shadow: "none", withArrow: true, transitionProps: { duration: 0 } },
		},
	},
});
