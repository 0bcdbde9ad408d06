export interface Stored {
  id: string;
  version: number;
}
