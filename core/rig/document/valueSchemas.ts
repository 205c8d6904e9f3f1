import Joi from 'joi';
import { FOV_DEG } from './vantages';

/** What is said in place of the schema library's own words, where those are not meant for people. */
export const MESSAGES = {
  'alternatives.types': '{{#label}} is of none of the kinds that there are',
  'alternatives.match': '{{#label}} is of none of the kinds that there are',
  'alternatives.any': '{{#label}} is of none of the kinds that there are',
};

/** Values that several parts of a rig have. */
export const finite = (low: number, high: number) => Joi.number().min(low).max(high);
export const triple = (low: number, high: number) => Joi.array().length(3).items(finite(low, high).required()).required();
export const ID = /^[a-z0-9-]+$/;
export const id = Joi.string().pattern(ID, 'small letters, digits and hyphens').max(64).required();
export const name = Joi.string().trim().min(1).max(80).required();
export const byName = (a: { name: string }, b: { name: string }) => a.name.toLowerCase() === b.name.toLowerCase();
export const hour = finite(0, 24).less(24).required();

export const degrees = finite(-360, 360).required();
export const hex = Joi.string()
  .pattern(/^#[0-9a-f]{6}$/i, '#rrggbb')
  .required();

export const vector = Joi.array().length(3).items(finite(-1e6, 1e6).required()).required();
/** Where a level is looked at from. */
export const viewParts = { eye: vector, target: vector, fovDeg: finite(FOV_DEG.least, FOV_DEG.most).required() };
export const view = Joi.object(viewParts);
