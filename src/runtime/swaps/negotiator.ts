// Stands for the package of the same name, which knows media types too: the languages of an
// Accept-Language header by their weights (RFC 9110 section 12.5.4), those with weight 0 left out.
interface Asked {
  readonly headers: { readonly 'accept-language': string };
}

export default class Negotiator {
  constructor(private readonly asked: Asked) {}

  languages(): string[] {
    const ranges = this.asked.headers['accept-language'].split(',').flatMap((part, at) => {
      const [, range, weight = '1'] =
        /^\s*([\w*-]+)\s*(?:;\s*q\s*=\s*([\d.]+)\s*)?$/i.exec(part) ?? [];
      return range !== undefined && Number(weight) > 0
        ? [{ range, weight: Number(weight), at }]
        : [];
    });
    ranges.sort((one, other) => other.weight - one.weight || one.at - other.at);
    return ranges.map(({ range }) => range);
  }
}
