export const accounts = {
  aCardFrom: 'a card, from {address}',
  aLetterCountMustBe: 'A letter count must be at least 1.',
  anApp: 'an app',
  aPartMustBeOne:
    "A part must be one of '{'given'}', '{'middle'}', '{'family'}', '{'number'}', or have a letter count, as in '{'given:1'}'.",
  aPasskey: 'a passkey: {name}',
  betweenThePartsUseLowercase: 'Between the parts, use lowercase letters, digits, periods, hyphens, or underscores.',
  byALink: 'by a link',
  chooseAPasswordWithAt: 'Choose a password with at least 8 characters. A few words work well.',
  chooseAPasswordWithAt2: 'Choose a password with at most 256 characters.',
  couldntConfirmThePasskeyTry: 'Couldn’t confirm the passkey. Try again.',
  from: 'from {address}',
  noMailServerIsSet: 'No mail server is set up, so a link can’t be sent. Ask your coordinator for a new password.',
  noMailServerIsSet2: 'No mail server is set up. Ask the person who runs the server to use ./run admin.',
  singleSignOnIsNot: 'Single sign-on is not set up.',
  someOfThesePeopleOr:
    'Some of these people or classes are not yours. Ask the coordinator of their school, or the district.',
  thatCodeIsWrongCodes: 'That code is wrong. Codes change every 30 seconds. Enter the one shown now.',
  thatCodeIsWrongEnter: 'That code is wrong. Enter the one the app shows now.',
  thatIsNotYourPassword: 'That is not your password.',
  thatTookTooLongStart: 'That took too long. Start again.',
  theDistrictsSignOnIs: 'The district’s sign-on is not responding. Sign in with your username and password.',
  thePatternNeedsOr: "The pattern needs '{'given'}', '{'family'}', or '{'number'}'.",
  thereIsNoEmailAddress: 'There is no email address on record. Add one first.',
  theUsernameAndPasswordDont:
    'The username and password don’t match. Check both, then try again. Capital letters don’t matter in a student’s password.',
  thisCardIsOutOf:
    'This card is out of date. Ask your teacher for a new one, or sign in with your username and password.',
  thisLinkNoLongerWorks: 'This link no longer works. Request a new one.',
  thisPasskeyIsNotRegistered: 'This passkey is not registered here. Sign in with your username and password.',
  thisPasswordIsOneOf: 'This password is one of the first anyone would guess. Choose another one.',
  thisPersonHasAHigher:
    'This person has a higher role than you, or also works at a school that is not yours. Ask the district.',
  thisSecondFactorWasNot: 'This second factor was not found.',
  tooManyAttemptsWaitA:
    'Too many attempts. Wait a while, or sign in with your card. A coordinator can give you a new password or card.',
  tooManyAttemptsWaitMinutes: 'Too many attempts. Wait 15 minutes.',
  tooManyRequestsWaitAn: 'Too many requests. Wait an hour, or ask your coordinator.',
  tooManyWrongCodesWait: 'Too many wrong codes. Wait 15 minutes.',
  youAlreadyHaveAnApp: 'You already have an app set up. Remove it first.',
  youDontHaveAPassword: 'You don’t have a password here. To confirm that it’s you, sign out and sign in again.',
  yourDistrictRequiresASecond:
    'Your district requires a second factor for coordinators. Add another one before you remove this one.',
};
