export const feeds = {
  couldntOpenTheFolderCheck: 'Couldn’t open the folder {folder}. Check its name and its permissions.',
  enterTheFolderToWatch: 'Enter the folder to watch.',
  enterTheServicesAddressIts: 'Enter the service’s address, its token address, and the client name.',
  feedsMayNotReadThe: 'Feeds may not read the folder {folder}. Choose one inside {list}.',
  getting: 'Getting {path}',
  isNotEncryptedUseAn: '{origin} is not encrypted. Use an address that starts with https.',
  isOnAPrivateNetwork:
    '{host} is on a private network. The person who runs the server can allow it in SHEAF_FEED_HOSTS.',
  mayNoLongerRunThis: '{who} may no longer run this feed. To run it in your name, open it and save it.',
  secretTheTokenAddressChanged:
    'secret: The token address changed. Enter the secret again, so that it isn’t sent to the wrong place.',
  thePersonWhoSetIt: 'The person who set it up',
  thereIsAlreadyAFeed: 'There is already a feed named “{name}”. Choose another name.',
  thereIsNoHostNamed: 'There is no host named {host}. Check the address.',
  theServiceAtIsNot: 'The service at {url} is not responding. Check its address, or try again later.',
  theServiceRefusedStatus: 'The service refused {what} (status {status}).',
  theServiceRejectedThisClient: 'The service rejected this client or its secret. Check both in the feed’s settings.',
  theServicesAnswerForHas: 'The service’s answer for {path} has no list named “{list}”. Check its address.',
  theServicesAnswerForIs: 'The service’s answer for {what} is not valid JSON. Check its address.',
  theServicesAnswerForIs2: 'The service’s answer for {what} is larger than {size} MB.',
  theToken: 'the token',
  thisFeedNoLongerExists: 'This feed no longer exists.',
  thisServerAllowsNoFolders:
    'This server allows no folders for feeds. The person who runs it can allow some in SHEAF_FEED_FOLDERS.',
};
