export { ChoiceField, choicesOf, wordChoices, type Choice } from './choice-field';
export { ClockField } from './clock-field';
export { DateField } from './date-field';
export { FieldSet } from './field-set';
export { MomentField } from './moment-field';
export { NumberField } from './number-field';
export { SuggestField } from './suggest-field';
export { TextField } from './text-field';
