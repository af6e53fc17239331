// Lists the members that are private or protected and whose names nothing else has: a bundler may
// shorten these, since nobody outside of their classes can ask for them.
import { readFileSync } from 'node:fs';
import ts from 'typescript';

const HIDDEN = [ts.SyntaxKind.PrivateKeyword, ts.SyntaxKind.ProtectedKeyword];

const isPrivate = ({ modifiers }) => modifiers?.some(({ kind }) => HIDDEN.includes(kind)) ?? false;

/** Whether a node may name a member of an object, apart from private members and `this.name`. */
const namesOther = (node) =>
  ts.isPropertyAssignment(node) ||
  ts.isShorthandPropertyAssignment(node) ||
  ts.isPropertySignature(node) ||
  ts.isMethodSignature(node) ||
  ts.isClassElement(node) ||
  (ts.isParameter(node) && node.modifiers !== undefined);

/** @param files paths of TypeScript sources: all that are bundled */
export function privateNames(files) {
  const own = new Set();
  const others = new Set();
  const visit = (node) => {
    if (isPrivate(node)) own.add(node.name?.text);
    else if (namesOther(node)) others.add(node.name?.text);
    else if (ts.isBindingElement(node)) others.add((node.propertyName ?? node.name).text);
    else if (ts.isStringLiteralLike(node)) others.add(node.text);
    else if (
      ts.isPropertyAccessExpression(node) &&
      node.expression.kind !== ts.SyntaxKind.ThisKeyword
    )
      others.add(node.name.text);
    ts.forEachChild(node, visit);
  };
  for (const file of files)
    visit(ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest));
  return [...own].filter((name) => name !== undefined && !others.has(name));
}
