import type { Plugin } from 'vite';

/**
 * Glue code of embind (Emscripten) that makes functions out of text, and what does the same without: the page's policy allows no `eval`.
 * Emscripten has a switch for it (`-sDYNAMIC_EXECUTION=0`), but the encoder's package is built without.
 */
const REPLACED: readonly (readonly [text: string, closure: string])[] = [
  [
    'return new Function(args1,invokerFnBody)',
    `return (humanName, throwBindingError, invoker, fn, runDestructors, fromRetWire, toClassParamWire, ...wires) =>
      function (...given) {
        const destructors = needsDestructorStack ? [] : null;
        const wired = [fn];
        if (isClassMethodFunc) wired.push(toClassParamWire(destructors, this));
        for (let i = 0; i < argCount; i++) wired.push(wires[i](destructors, given[i]));
        const rv = invoker(...wired);
        if (needsDestructorStack) runDestructors(destructors);
        else {
          let next = argCount;
          for (let i = isClassMethodFunc ? 1 : 2; i < argTypes.length; i++)
            if (argTypes[i].destructorFunction !== null) wires[next++](wired[isClassMethodFunc ? i : i - 1]);
        }
        return returns ? fromRetWire(rv) : undefined;
      }`,
  ],
  [
    'new Function(Object.keys(captures),functionBody)(...Object.values(captures))',
    `(handle, methodName, destructorsRef, args) => {
      const values = argFromPtr.map((read, i) => read(args + i * GenericWireTypeSize));
      const target = kind === 3 ? null : Emval.toValue(handle);
      const result =
        kind === 0 ? target(...values)
        : kind === 2 ? new target(...values)
        : kind === 1 ? target[getStringOrSymbol(methodName)](...values)
        : values.at(-1);
      return retType.isVoid ? undefined : emval_returnValue(toReturnWire, destructorsRef, result);
    }`,
  ],
];

/** @throws Error if the encoder's glue is another one than this was written for */
export function withoutEval(code: string): string {
  let out = code;
  for (const [text, closure] of REPLACED) {
    if (out.split(text).length !== 2)
      throw new Error(`The KTX2 encoder’s glue has changed: “${text}” isn't there once.`);
    out = out.replace(text, () => closure);
  }
  if (/\bnew Function\b|\beval\(/.test(out))
    throw new Error('The KTX2 encoder’s glue makes functions out of text elsewhere too.');
  return out;
}

/** Lets the KTX2 encoder work under a policy without `eval`. */
export const noEval: Plugin = {
  name: 'no-eval',
  transform: (code, id) =>
    /ktx2-encoder\/dist\/basis\/basis_encoder\.js/.test(id) ? withoutEval(code) : null,
};
