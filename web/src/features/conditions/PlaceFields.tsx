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
			<label>
				Place
				<input
					required
					maxLength={80}
					list="places"
					value={place}
					onChange={(e) => onPlace(e.currentTarget.value)}
				/>
			</label>
			<label>
				What
				<select value={quantity} onChange={(e) => onQuantity(e.currentTarget.value)}>
					{quantities?.map((q) => (
						<option key={q.name} value={q.name}>
							{q.label}
						</option>
					))}
				</select>
			</label>
		</>
	);
}
