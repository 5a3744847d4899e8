export const directory = {
  anotherAccountInTheDirectory: 'Another account in the directory already has the username {username}.',
  correctTheDirectoryDifferences: 'Correct the directory: {count, plural, one {# difference} other {# differences}}',
  displayName: 'display name',
  isInTheDirectoryBut: '{name} is in the directory but did not come from Sheaf. It stays as it is.',
  isMissingFromTheDirectory: 'is missing from the directory',
  isShouldBe: '{field} is {held}, should be {wanted}',
  itAnswered: 'It answered {status}.',
  itsAnswerIsNotA: 'Its answer is not a SCIM resource.',
  itsAnswerIsNotScim: 'Its answer is not SCIM. Check its address.',
  members: '{count} members',
  shouldNotBeInIt: '{count} should not be in it, {missing} are missing',
  theAnswerWasLost: 'The answer was lost.',
};
