/** A label as it stands inside a sentence: small, unless it is written in capitals wherever it stands. */
export function lower(label: string): string {
  return /^(IPv4|DNS|UTC|DHCP|VLAN|MTU)/.test(label) ? label : label.charAt(0).toLowerCase() + label.slice(1);
}

/** The same at the beginning of a sentence or of a line. */
export function upper(label: string): string {
  return label.charAt(0).toUpperCase() + label.slice(1);
}

/** A number as it goes to the server: with a point, whatever was typed; null for nothing. */
export function typedNumber(text: string): string | null {
  return text.trim().replace(",", ".") || null;
}
