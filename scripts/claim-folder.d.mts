export declare function claimFolder(folder: string): Promise<{ readonly close: () => Promise<void> }>;
