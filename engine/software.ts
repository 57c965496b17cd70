/** Version of this software, as runs and hash lists name it. */
export const SOFTWARE_VERSION = '1.0.0';
