import type { ClassValue } from 'vue';

/** What a small table shows, see Figures.vue. */
export interface Column<Row> {
  key: string;
  /** Of a table without any title no heads are shown. */
  title?: string;
  /** The title is not seen, only read aloud. */
  untitled?: boolean;
  /** Figures stand at the right. */
  number?: boolean;
  mono?: boolean;
  /** It names the row. */
  heading?: boolean;
  cellClass?: (row: Row, index: number) => ClassValue;
}
