/** Work of one's own, under a key that its sender made. */
export interface TaskKey {
  key: string;
}
/** How far work is that somebody waits for. */
export interface TaskView {
  /** How many come first; 0 while it runs. */
  place: number;
  done: number;
  /** 0 while it is not known. */
  total: number;
}
/** A call that takes its time, and may say how far it is under a key. */
export interface TaskOf {
  task?: string;
}
