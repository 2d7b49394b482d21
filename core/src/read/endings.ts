/** Endings of everything that can be received, for choosing files. Kept apart from the readers, which the browser does not load. */
export const READABLE_ENDINGS =
  '.stp,.step,.p21,.ifc,.gltf,.glb,.bin,.obj,.mtl,.stl,.ply,.3mf,.dae,.zae,.x3d,.usd,.usda,.usdc,.usdz,.igs,.iges,.brep,.brp,.zip,' +
  '.png,.jpg,.jpeg,.webp,.ktx2,.tga,.bmp,.tif,.tiff,.gif,.exr,.hdr';
