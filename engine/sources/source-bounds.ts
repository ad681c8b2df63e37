import { lookup } from 'node:dns/promises';
import { existsSync, realpathSync } from 'node:fs';
import { BlockList, isIP, isIPv6 } from 'node:net';
import { resolve, sep } from 'node:path';
import { fileURLToPath } from 'node:url';

/** What sources may make the engine read: files below some folders, and objects of some hosts. */
export interface SourceBounds {
  /** The folders, as whole paths. */
  readonly folders: readonly string[];
  /** Whether a file may be read; `path` without links in it. */
  readonly allowsFile: (path: string) => boolean;
  /** What is wrong with the patterns or the address of a source, as a sentence; undefined when it may be read. */
  readonly problemOf: (settings: {
    readonly globs?: readonly string[] | undefined;
    readonly url?: string | undefined;
  }) => string | undefined;
  /** Throws a sentence when an address may not be asked, now that its host is looked up. */
  readonly checkAddress: (url: URL) => Promise<void>;
}

/** Addresses that no source may name, whatever the installation allows: link-local ones, where machines tell their secrets. */
const never = new BlockList();
never.addSubnet('169.254.0.0', 16, 'ipv4');
never.addSubnet('fe80::', 10, 'ipv6');
never.addAddress('fd00:ec2::254', 'ipv6');
never.addAddress('100.100.100.200', 'ipv4');
never.addSubnet('0.0.0.0', 8, 'ipv4');

/** Bounds from the lists of an installation: folders, and hosts as `name` (any port) or `name:port`. */
export function sourceBounds(folders: readonly string[], hosts: readonly string[]): SourceBounds {
  const roots = [...new Set(folders.map((folder) => resolve(folder)))];
  const realRoots = new Map<string, string>();
  /** Where a folder really is when it is a link, or is behind one; it may come to be only later. */
  const realRoot = (root: string): string => {
    let real = realRoots.get(root);
    if (real === undefined && existsSync(root)) realRoots.set(root, (real = realpathSync(root)));
    return real ?? root;
  };
  const isBelow = (path: string, root: string): boolean =>
    path === root || path.startsWith(root.endsWith(sep) ? root : root + sep);
  const inFolder = (path: string): boolean => {
    const full = resolve(path);
    return roots.some((root) => isBelow(full, root) || isBelow(full, realRoot(root)));
  };
  const problemOfUrl = (text: string): string | undefined => {
    if (!URL.canParse(text)) return `${text} is no address`;
    const url = new URL(text);
    if (url.protocol === 'file:')
      return inFolder(fileURLToPath(url)) ? undefined : folderProblem(fileURLToPath(url), roots);
    if (url.protocol !== 'http:' && url.protocol !== 'https:')
      return `${url.protocol} is no way to objects: use http, https or file`;
    if (url.username !== '' || url.password !== '') return 'an address with a password in it is not kept';
    const host = bare(url.hostname);
    const allowed = hosts.some((allowedHost) => [url.host, url.hostname, host].includes(allowedHost));
    if (isNever(host)) return `${url.hostname} is no host that may be asked for objects`;
    return allowed ? undefined : `the installation does not allow ${url.host}: name it in SOURCE_HOSTS`;
  };
  return {
    folders: roots,
    allowsFile: inFolder,
    problemOf: ({ globs = [], url }) => {
      // What is before the first wildcard must lie in a folder; `..` behind it would lead out again.
      const wrong = globs.find((glob) => !inFolder(fixedPart(glob)) || /(^|[\\/])\.\.([\\/]|$)/.test(glob));
      if (wrong !== undefined) return folderProblem(wrong, roots);
      return url === undefined || url === '' ? undefined : problemOfUrl(url);
    },
    checkAddress: async (url) => {
      const problem = problemOfUrl(url.href);
      if (problem) throw new Error(problem);
      if (url.protocol === 'file:') return;
      for (const { address } of await lookup(bare(url.hostname), { all: true }))
        if (isNever(address)) throw new Error(`${url.hostname} leads to ${address}, which may not be asked`);
    },
  };
}

function folderProblem(path: string, roots: readonly string[]): string {
  const allowed = roots.length > 0 ? roots.join(', ') : 'no folder';
  return `the installation does not allow ${path}: files are read below ${allowed} (SOURCE_FOLDERS)`;
}

/** The part of a pattern up to its first wildcard. */
function fixedPart(glob: string): string {
  const fixed = /^[^*?{}[\]()!+@]*/.exec(glob)?.[0] ?? '';
  return fixed.slice(0, fixed.lastIndexOf('/') + 1) || fixed;
}

/** A host's name or address without the brackets of IPv6. */
function bare(hostname: string): string {
  return hostname.replace(/^\[|\]$/g, '');
}

function isNever(host: string): boolean {
  if (isIP(host) === 0) return /(^|\.)metadata(\.|$)/i.test(host);
  return never.check(host, isIPv6(host) ? 'ipv6' : 'ipv4');
}
