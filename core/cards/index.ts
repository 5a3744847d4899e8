export { type CardContent, type DeviceLabel, drawCard, hasBack, parts } from './draw';
export { backOf, type Edge, impose } from './impose';
export { type Face, fit, fitCode, type Item, type Measure, paragraph, type Tint, widthOf } from './items';
export {
  type Box,
  cutMarks,
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
export {
  cardSheets,
  deviceLabelSheets,
  listSheets,
  type PosterContent,
  posterSheet,
  type Sheet,
  sheetCount,
  type SheetOrder,
  testSheet,
} from './sheets';
export { english, type Language, languages, texts } from './texts';
