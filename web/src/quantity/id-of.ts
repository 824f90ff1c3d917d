/** The id that something with a name gets in a list: small letters, digits and hyphens, beginning with a letter; empty where none is left. */
export const idOf = (name: string): string =>
  name
    .trim()
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^[^a-z]+|-$/g, '')
    .slice(0, 40)
