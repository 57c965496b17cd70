/** Memory and direct I/O go by pages of so many bytes: addresses, lengths and places in files are whole ones. */
export const PAGE_BYTES = 4096;
