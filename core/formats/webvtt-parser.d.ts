/** The parser comes without types: what of it is used here. */
declare module 'webvtt-parser' {
  export interface VttNode {
    /** "text" where it holds `value`; else it holds `children`. */
    type: string;
    value?: string;
    children?: VttNode[];
  }
  export interface VttCue {
    id: string;
    /** Seconds. */
    startTime: number;
    endTime: number;
    tree: { children: VttNode[] };
  }
  export class WebVTTParser {
    /** @param entities what stands for each, with the semicolon */
    constructor(entities?: Record<string, string>);
    parse(input: string): { cues: VttCue[]; errors: { message: string; line: number }[] };
  }
}
