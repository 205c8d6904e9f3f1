/** Scene value of a mid-grey surface that is exposed rightly: 1 is white. */
export const MID_GREY = 0.18;
