/** A sentence begins with a capital letter; the rest stays as it is. */
export const capitalized = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
