/** What a good passphrase is; the server looks whether it is one. */
export const GOOD = "At least 12 characters, such as four or five words that have nothing to do with each other.";
