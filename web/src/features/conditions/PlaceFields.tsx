import { NativeSelect, TextInput } from "@mantine/core";
import { useReference } from "@/ui/reference";

export interface PlaceFieldsProps {
	place: string;
	quantity: string;
	onPlace: (place: string) => void;
	onQuantity: (quantity: string) => void;
}

/** Where a condition is read, from the places known so far or a new one, and what is read there. */
export function PlaceFields({ place, quantity, onPlace, onQuantity }: PlaceFieldsProps) {
	const quantities = useReference()?.quantities;
	return (
		<>
			<TextInput
				label="Place"
				required
				withAsterisk={false}
				maxLength={80}
				list="places"
				value={place}
				onChange={(e) => onPlace(e.currentTarget.value)}
			/>
			<NativeSelect
				label="What"
				value={quantity}
				onChange={(e) => onQuantity(e.currentTarget.value)}
				data={(quantities ?? []).map((q) => ({ value: q.name, label: q.label }))}
			/>
		</>
	);
}
