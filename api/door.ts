/** Whether whoever asks may work here. */
export interface DoorState {
  /** Whether it must have joined with the pass code. */
  closed: boolean;
  joined: boolean;
  /** What the device calls itself; null when it has not joined. */
  name: string | null;
}

export interface Joining {
  code: string;
  name: string;
}

/** A device that joined with the pass code. */
export interface Device {
  id: string;
  name: string;
  joined_at: string;
  seen_at: string;
}

export interface DeviceInList extends Device {
  /** Whether it is the one that asks. */
  own: boolean;
}
