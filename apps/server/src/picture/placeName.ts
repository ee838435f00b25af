const regions = new Intl.DisplayNames(['en'], { type: 'region' });

/** A country's name from its two letters; the letters themselves when unknown. */
export function countryName(code: string): string {
  try {
    return regions.of(code) ?? code;
  } catch {
    return code;
  }
}

/** A place as it is shown: "Visby, Sweden". */
export const libraryPlaceName = (place: string, country: string): string => `${place}, ${countryName(country)}`;
