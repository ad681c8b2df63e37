/** What the bench asks of DuckDB, which is installed beside it alone: so that its types are checked without it. */
declare module '@duckdb/node-api' {
  export interface DuckDBAppender {
    appendInteger(value: number): void;
    appendBigInt(value: bigint): void;
    appendDouble(value: number): void;
    endRow(): void;
    closeSync(): void;
  }

  export interface DuckDBConnection {
    run(sql: string): Promise<unknown>;
    runAndReadAll(sql: string): Promise<{ getRows(): readonly (readonly unknown[])[] }>;
    createAppender(table: string): Promise<DuckDBAppender>;
  }

  export class DuckDBInstance {
    static create(path: string): Promise<DuckDBInstance>;
    connect(): Promise<DuckDBConnection>;
  }
}
