/** The part of the 3MF Consortium's library that the tests use; it brings no types. */
declare module '@3mfconsortium/lib3mf' {
  /** Values of a structure are set one by one: `set_Coordinates0`. */
  type Structure = Record<string, (value?: number) => number>;
  interface Handle {
    GetResourceID(): number;
  }
  interface MeshObject extends Handle {
    SetName(name: string): void;
    GetName(): string;
    AddVertex(position: Structure): void;
    AddTriangle(triangle: Structure): void;
    GetVertexCount(): number;
    GetTriangleCount(): number;
    GetVertex(index: number): Structure;
    SetObjectLevelProperty(resource: number, property: number): void;
    SetTriangleProperties(triangle: number, properties: Structure): void;
  }
  interface ComponentsObject extends Handle {
    SetName(name: string): void;
    AddComponent(object: Handle, transform: Structure): void;
  }
  interface BaseMaterialGroup extends Handle {
    AddMaterial(name: string, colour: Structure): number;
  }
  interface BuildItem {
    GetObjectTransform(): Structure;
    GetObjectResource(): Handle;
  }
  interface Iterator<T> {
    MoveNext(): boolean;
    GetCurrent(): T;
  }
  interface Model {
    SetUnit(unit: object): void;
    GetUnit(): { value: number };
    AddMeshObject(): MeshObject;
    AddComponentsObject(): ComponentsObject;
    AddBaseMaterialGroup(): BaseMaterialGroup;
    AddBuildItem(object: Handle, transform: Structure): void;
    GetMeshObjects(): Iterator<unknown> & { GetCurrentMeshObject(): MeshObject };
    GetBuildItems(): Iterator<BuildItem>;
    GetOutbox(): Record<string, () => number>;
    delete(): void;
    QueryReader(kind: string): {
      delete(): void;
      ReadFromFile(path: string): void;
      SetStrictModeActive(on: boolean): void;
      GetWarningCount(): number;
    };
    QueryWriter(kind: string): { WriteToFile(path: string): void };
  }
  interface Wrapper {
    CreateModel(): Model;
    RGBAToColor(red: number, green: number, blue: number, alpha: number): Structure;
    GetIdentityTransform(): Structure;
  }
  interface Library {
    CWrapper: new () => Wrapper;
    sPosition: new () => Structure;
    sTriangle: new () => Structure;
    sTransform: new () => Structure;
    sTriangleProperties: new () => Structure;
    eModelUnit: Record<'MicroMeter' | 'MilliMeter' | 'CentiMeter' | 'Inch' | 'Foot' | 'Meter', object>;
    FS: { writeFile(path: string, bytes: Uint8Array): void; readFile(path: string): Uint8Array };
  }
  export default function load(): Promise<Library>;
}
