/** What a language is called: in itself, or in another one. A tag that no name is known of stands for itself. */
export const languageName = (tag: string, inside = tag): string => {
  try {
    return new Intl.DisplayNames([inside], { type: 'language' }).of(tag) ?? tag;
  } catch {
    return tag;
  }
};
