import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import ts from 'typescript';
import { describe, expect, it } from 'vitest';

/** The words that docs/words.md has retired, as they would stand in a label. */
const RETIRED: readonly RegExp[] = [
  /\b(take|takes|taken) (off|up|it off|this|a colour|the colour)\b/i,
  /^take (?!the tour)/i,
  /\bcome near\b(?!er)/i,
  /\bisolate\b/i,
  /\bselected\b/i,
  /^cover$/i,
  /\bdoubl(es|ed)\b/i,
  /\bloose\b/i,
  /\bput right\b/i,
  /\bnormals anew\b/i,
  /\blay on\b/i,
  /\bown part\b/i,
  /\bseams by itself\b/i,
  /\bbring\b/i,
  /^(bend|from|to|over)$/i,
];

/** Attributes and properties whose text a person reads. */
const READ = new Set(['title', 'label', 'says', 'text', 'placeholder', 'aria-label', 'aria-description']);

/** Everything in a source file that is shown: text between tags, texts of readable attributes and properties, sentences that are told. */
function shownTexts(file: string): string[] {
  const source = ts.createSourceFile(
    file,
    readFileSync(file, 'utf8'),
    ts.ScriptTarget.Latest,
    true,
    file.endsWith('x') ? ts.ScriptKind.TSX : ts.ScriptKind.TS,
  );
  const texts: string[] = [];
  const stringsIn = (node: ts.Node): void => {
    if (ts.isStringLiteralLike(node) || ts.isTemplateHead(node) || ts.isTemplateMiddleOrTemplateTail(node)) {
      texts.push(node.text);
    }
    ts.forEachChild(node, stringsIn);
  };
  const visit = (node: ts.Node): void => {
    if (ts.isJsxText(node)) texts.push(node.text);
    if (ts.isJsxAttribute(node) && READ.has(node.name.getText()) && node.initializer) {
      stringsIn(node.initializer);
    }
    if (ts.isPropertyAssignment(node) && READ.has(node.name.getText().replaceAll(/['"]/g, ''))) {
      stringsIn(node.initializer);
    }
    if (ts.isCallExpression(node) && /^(notify|tip|undoable|tell)$/.test(node.expression.getText())) {
      node.arguments.forEach(stringsIn);
    }
    // Tables of words: whatever is written like the beginning of a label.
    if (ts.isStringLiteralLike(node) && /^\p{Lu}\p{Ll}/u.test(node.text)) texts.push(node.text);
    ts.forEachChild(node, visit);
  };
  visit(source);
  return texts.map((t) => t.replaceAll(/\s+/g, ' ').trim()).filter(Boolean);
}

const files = readdirSync('app', { recursive: true, encoding: 'utf8' })
  .filter((f) => /\.tsx?$/.test(f) && !f.endsWith('.test.ts'))
  .map((f) => join('app', f));

describe('the words on the screen', () => {
  it('are found', () => {
    const all = files.flatMap(shownTexts);
    expect(all.length).toBeGreaterThan(400);
    expect(all).toContain('Lit check');
    expect(all).toContain('Frame the whole model');
  });

  it('use none that docs/words.md has retired', () => {
    const wrong = files.flatMap((file) =>
      shownTexts(file)
        .filter((text) => RETIRED.some((word) => word.test(text)))
        .map((text) => `${file}: ${text}`),
    );
    expect(wrong).toEqual([]);
  });
});
