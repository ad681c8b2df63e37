import { defineConfig } from 'drizzle-kit';

export default defineConfig({ dialect: 'mysql', schema: './store/schema.ts', out: './store/migrations' });
