export const handouts = {
  code: 'Code',
  countBadges: '{n, plural, one {# badge} other {# badges}}',
  countCards: '{n, plural, one {# card} other {# cards}}',
  countLabels: '{n, plural, one {# label} other {# labels}}',
  countList: '{n, plural, one {# line} other {# lines}}',
  countStrips: '{n, plural, one {# strip} other {# strips}}',
  drawing: 'Drawing {said}',
  openPdf: 'Open PDF',
  readyToPrint: '{said} ready to print.',
};
