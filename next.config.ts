import type { NextConfig } from 'next';

const config: NextConfig = {
  poweredByHeader: false,
  reactStrictMode: true,
  // Types are checked by `tsc` over the whole project.
  typescript: { ignoreBuildErrors: true },
  // This folder is all that there is to it, whatever lies around it.
  turbopack: { root: process.cwd() },
  devIndicators: false,
  // Writing the build cache takes a fifth of a build; skip it if nobody will build again.
  experimental: { turbopackFileSystemCacheForBuild: process.env.BUILD_CACHE !== 'off' },
  headers: async () => [
    {
      source: '/(.*)',
      headers: [
        { key: 'x-content-type-options', value: 'nosniff' },
        { key: 'x-frame-options', value: 'DENY' },
        { key: 'referrer-policy', value: 'same-origin' },
        { key: 'cross-origin-opener-policy', value: 'same-origin' },
        { key: 'permissions-policy', value: 'camera=(), microphone=(), geolocation=()' },
      ],
    },
  ],
};

export default config;
