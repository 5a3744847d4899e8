/** Before each file of tests: pages are opened only when all that they say is there. */
import { restOfWords } from './words';

await restOfWords();
