/** Flags as commander reads them. */

/** What is typed again and again, in its order. */
export const again = (value: string, before: string[] = []): string[] => [...before, value];

/** The name under which commander gives a flag: `write-floor` is `writeFloor`. */
export const camelCase = (flag: string): string => flag.replace(/-(\w)/g, (_, letter: string) => letter.toUpperCase());
