// Texts for the clipboard.

/** Puts a text into the clipboard. Refused with a sentence where the browser does not let that happen. */
export async function copyText(text: string): Promise<void> {
  // A page that comes unencrypted from another machine is given no clipboard.
  const written = navigator.clipboard?.writeText(text).then(
    () => true,
    () => false,
  );
  if (!((await written) || byEvent(text)))
    throw new Error("The browser does not let this be copied. Select it and copy it by hand.");
}

/** As if somebody copied a selection that is this text. */
function byEvent(text: string): boolean {
  const give = (e: ClipboardEvent) => {
    e.clipboardData?.setData("text/plain", text);
    e.preventDefault();
  };
  document.addEventListener("copy", give, { once: true });
  try {
    return document.execCommand("copy");
  } finally {
    document.removeEventListener("copy", give);
  }
}
