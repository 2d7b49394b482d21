/** Names of IFC classes as the standard (ISO 16739-1) spells them; files write them in capitals. */

const SPELLED =
  `Project Site Building BuildingStorey Space SpatialZone ExternalSpatialElement Facility FacilityPart Bridge BridgePart Road
RoadPart Railway RailwayPart MarineFacility Wall WallStandardCase WallElementedCase CurtainWall Slab SlabStandardCase Beam
BeamStandardCase Column ColumnStandardCase Member MemberStandardCase Plate PlateStandardCase Door DoorStandardCase Window
WindowStandardCase Roof Stair StairFlight Ramp RampFlight Railing Covering Footing Pile BuildingElementProxy BuildingElementPart
BuildingElement BuiltElement ElementAssembly Chimney ShadingDevice FurnishingElement Furniture SystemFurnitureElement
TransportElement GeographicElement CivilElement DistributionElement DistributionFlowElement DistributionControlElement
DistributionChamberElement DistributionPort EnergyConversionDevice FlowController FlowFitting FlowMovingDevice FlowSegment
FlowStorageDevice FlowTerminal FlowTreatmentDevice AirTerminal AirTerminalBox Boiler Burner CableCarrierFitting
CableCarrierSegment CableFitting CableSegment Chiller Coil Compressor Condenser CoolingTower Damper DuctFitting DuctSegment
DuctSilencer ElectricAppliance ElectricMotor Engine Fan Filter FireSuppressionTerminal HeatExchanger Humidifier Lamp
LightFixture MedicalDevice Outlet PipeFitting PipeSegment Pump SanitaryTerminal Sensor SolarDevice SpaceHeater
StackTerminal SwitchingDevice Tank Transformer Valve WasteTerminal ReinforcingBar ReinforcingMesh ReinforcingElement Tendon
TendonAnchor Fastener MechanicalFastener DiscreteAccessory VibrationIsolator Bearing Course EarthworksElement EarthworksFill
EarthworksCut Kerb Pavement Rail TrackElement Signal Sign Annotation Grid OpeningElement OpeningStandardCase Proxy
VirtualElement EquipmentElement Alignment Referent Vehicle ProjectionElement VoidingFeature SurfaceFeature`
    .split(/\s+/)
    .map((name) => [`IFC${name.toUpperCase()}`, `Ifc${name}`] as const);

const NAMES = new Map<string, string>(SPELLED);

/** `IFCWALLSTANDARDCASE` to `IfcWallStandardCase`; one that is not known keeps a readable form. */
export function className(type: string): string {
  return NAMES.get(type) ?? `Ifc${type.slice(3, 4)}${type.slice(4).toLowerCase()}`;
}
