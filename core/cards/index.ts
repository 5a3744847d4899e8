export { type CardContent, type DeviceLabel, parts } from './draw';
export { backOf, type Edge, impose } from './impose';
export { type Face, fitCode, type Item, type Measure, type Tint, widthOf } from './items';
export {
  type Box,
  cutMarks,
  hasPieces,
  isCard,
  type Layout,
  layouts,
  type Paper,
  papers,
  type Piece,
  pieces,
  pointsPerMm,
  rowsOf,
  slots,
} from './layout';
export { type Consent } from './letters';
export {
  cardSheets,
  codeSheets,
  deviceLabelSheets,
  type PosterContent,
  posterSheet,
  type Sheet,
  sheetCount,
  type SheetOrder,
  testSheet,
} from './sheets';
export { english, isRtl, type Language, languages, texts } from './texts';
