export { ActionButton, QuietButton } from "./buttons";
export { Choice } from "./Choice";
export { type Keys, useKeys } from "./keys";
export { KeysDialog } from "./KeysDialog";
export { EmptyNote, ErrorNote, Waiting } from "./notes";
export { SvgText } from "./SvgText";
export { offsetWords, percent, plusMinus, signWord, sized } from "./words";
export { useWidth } from "./width";
