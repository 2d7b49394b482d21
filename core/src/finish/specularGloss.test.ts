// Specular-gloss and metal-rough, by the formulas of KHR_materials_pbrSpecularGlossiness and the Fresnel value of what is no metal.
import { expect, it } from 'vitest';
import { LIBRARY } from './library/library.ts';
import { metalRough, roundTripError, specularGloss } from './specularGloss.ts';

it('a plastic has the reflectance of an index of 1.5, and its colour, of which what is reflected is taken where it is shown', () => {
  const { diffuse, specular, glossiness } = specularGloss({ baseColor: [0.5, 0.25, 0.1], metallic: 0, roughness: 0.3 });
  // Fresnel at normal incidence: ((n - 1) / (n + 1))².
  expect(specular[0]).toBeCloseTo(((1.5 - 1) / (1.5 + 1)) ** 2, 9);
  [0.5, 0.25, 0.1].forEach((value, i) => expect(diffuse[i]).toBeCloseTo(value, 9));
  expect(glossiness).toBeCloseTo(0.7, 9);
});

it('a metal has no diffuse colour, and reflects in its own', () => {
  const gold = { baseColor: [1, 0.782, 0.344], metallic: 1, roughness: 0.2 };
  expect(specularGloss(gold)).toMatchObject({ diffuse: [0, 0, 0], specular: [1, 0.782, 0.344] });
  const back = metalRough(specularGloss(gold));
  expect(back.metallic).toBeCloseTo(1, 3);
  back.baseColor.forEach((value, i) => expect(value).toBeCloseTo(gold.baseColor[i], 3));
});

it('what is wholly metal or not at all comes back as it was, dark or light; what is between loses a little, which is told', () => {
  for (const material of LIBRARY) {
    const error = roundTripError(material);
    if (material.metallic === 0 || material.metallic === 1) expect(error, material.name).toBeLessThan(1e-3);
    else expect(error, material.name).toBeLessThan(0.2);
  }
  expect(roundTripError({ baseColor: [0.5, 0.5, 0.5], metallic: 0.5, roughness: 0.5 })).toBeGreaterThan(0);
});
