export const stores = {
  openThePlan: 'Open the plan',
  theJobFailed: 'The job failed.',
  theJobsProgressCanNo: 'The job’s progress can no longer be followed. The ledger shows what was done.',
  undoTheRest: 'Undo the rest',
  undoing: 'Undoing',
  undone: 'Undone. {sentence}',
};
