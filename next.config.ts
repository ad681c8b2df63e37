import type { NextConfig } from 'next';

const config: NextConfig = {
  poweredByHeader: false,
  reactStrictMode: true,
  // Types are checked by `tsc` over the whole project.
  typescript: { ignoreBuildErrors: true },
  serverExternalPackages: ['mysql2'],
  devIndicators: false,
};

export default config;
