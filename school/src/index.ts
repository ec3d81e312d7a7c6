export { ANSWERS } from './answers/answers.ts';
export { fillIn } from './answers/fill-in.ts';
export { Chance } from './chance.ts';
export { startClass } from './class/class.ts';
export { type Plan, SimulatedStudent } from './class/simulated-student.ts';
export { fillSchool, isEmpty } from './fill/fill.ts';
export { loginOf, SCHOOL_NAME, STUDENTS, TEACHER } from './people/people.ts';
export { findingYourWay, signsAndSquares, walkToTheLighthouse } from './worksheet/worksheets.ts';
