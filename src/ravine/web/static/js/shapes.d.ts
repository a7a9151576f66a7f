// What the server sends and what the rooms hand to one another.

/** The page that wires everything, and the view in it. */
type Bench = import("./workbench.js").Workbench;
type Viewer = import("./view/view.js").View;

/** On the screen (px), or in the plane of a sketch or section (mm). */
interface Place { x: number; y: number; z?: number }

/** What can be pointed at, picked and named. */
interface Thing { kind: string; id: string; node?: any; index?: any; point?: any; [more: string]: any }

/** A model at one of its states, as it is drawn. */
interface Scene { units: string; nodes: SceneNode[]; bodies: SceneBody[]; sketches: Sketch[]; [more: string]: any }

interface SceneNode { id: string; body?: any; path?: any; [more: string]: any }

interface SceneBody { id: string; shape: string; [more: string]: any }

interface Sketch { id: string; curves: any[]; points: Record<string, any>; areas: any[]; matrix: any; [more: string]: any }

/** Looked up by a name that comes from the page. */
type Table<T = any> = Record<string, T>;
