import type { stores as english } from '../en/stores';

export const stores: Record<keyof typeof english, string> = {
  openThePlan: 'Abrir el plan',
  theJobFailed: 'El trabajo falló.',
  theJobsProgressCanNo: 'Ya no se puede seguir el avance del trabajo. La bitácora muestra lo que se hizo.',
  undoTheRest: 'Deshacer el resto',
  undoing: 'Deshaciendo',
  undone: 'Deshecho. {sentence}',
};
