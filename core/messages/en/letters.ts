export const letters = {
  passwordSubject: 'Choose a new password for {district}',
  passwordBody:
    'Hello {name},\n\n{why} Your username is {username}.\n\nChoose a new password here. The link works once, for {minutes} minutes:\n\n{link}\n\nIf you did not expect this, ignore this message. Your password stays the same.',
  whyForgotten: 'Someone, probably you, asked for a new password.',
  whyCoordinator: 'Your coordinator asked you to choose a new password.',
  invitationSubject: 'Your account at {district}',
  invitationBody:
    'Hello {name},\n\n{district} made an account for you. Your username is {username}.\n\nChoose your password here. The link is only for you and works for {days} days:\n\n{link}\n\nIf this message is not for you, ignore it.',
  digestSubject: '{district}: the week of {week}',
  digestHello: 'Good morning, {name}.',
  digestSchool: '{school}, {n, plural, one {# student} other {# students}}:',
  digestAll:
    'All have {link, select, account {an account} class {a class} seats {a seat} device {a device} card {a current card} other {a first sign-in}}{change}',
  digestSome:
    '{n, plural, one {# needs} other {# need}} {link, select, account {an account} class {a class} seats {a seat} device {a device} card {a current card} other {a first sign-in}}{change}',
  digestFewer: ', {n} fewer than a week ago',
  digestMore: ', {n} more than a week ago',
  digestAttention: 'Needs attention:',
  digestOff: 'Your district can turn off these messages under Settings, Mail.',
};
