/** How a copy of the database stands from which questions are answered. */
export interface ReplicaStanding {
  /** `none`: there is no copy; `level`: it has everything; `away`: it does not answer, or follows no longer. */
  state: 'none' | 'level' | 'behind' | 'away';
  /** By how much it lags, as far as this server has seen; null: there is none, or it does not answer. */
  secondsBehind: number | null;
}
