/** The combined log format of web servers, as a template. */
export const combinedFormat =
  '{client} {} {user?} [{at:clf}] "{method} {path} HTTP/{version}" {status:int} {bytes?:bytes} "{referrer?}" "{agent?}"';

/** The common log format of web servers, as a template. */
export const commonFormat =
  '{client} {} {user?} [{at:clf}] "{method} {path} HTTP/{version}" {status:int} {bytes?:bytes}';
