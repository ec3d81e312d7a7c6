import type { classRoutes } from '@jotmark/core';
import { addClass } from '../assignment/set.ts';
import { actsOf } from '../register/acts.ts';
import { eraseStudent } from '../register/erase.ts';
import {
  addStudents,
  addTeacher,
  archiveClass,
  changeClass,
  changePassword,
  classesOf,
  correctStudent,
  newPasswords,
  planStudents,
  readRegister,
  removeStudent,
  removeTeacher,
  returnStudent,
} from '../register/register.ts';
import { done, type HandlersOf, type Parts } from './handler.ts';

/** Classes and who is in them. */
export function classHandlers({ house }: Parts): HandlersOf<typeof classRoutes> {
  return {
    classes: ({ person }) => classesOf(house, person),
    addClass: async ({ person, body }) => ({
      id: await addClass(house, { ...body, teachers: [person.id], students: [] }),
    }),
    changeClass: ({ params, body }) => done(changeClass(house, params.classId, body)),
    acts: ({ params }) => actsOf(house, params.classId),
    archiveClass: ({ params, body }) => done(archiveClass(house, params.classId, body.archived)),
    register: ({ params }) => readRegister(house, params.classId),
    planStudents: ({ person, params, body }) => planStudents(house, person, params.classId, body.text),
    addStudents: ({ person, params, body }) => addStudents(house, person, params.classId, body.students),
    eraseStudent: ({ params }) => eraseStudent(house, params.classId, params.personId),
    correctStudent: ({ params, body }) => done(correctStudent(house, params.classId, params.personId, body)),
    removeStudent: ({ params }) => done(removeStudent(house, params.classId, params.personId)),
    returnStudent: ({ params }) => done(returnStudent(house, params.classId, params.personId)),
    newPasswords: ({ person, params, body }) => newPasswords(house, person, params.classId, body.personIds),
    addTeacher: ({ params, body }) => done(addTeacher(house, params.classId, body.login)),
    removeTeacher: ({ params }) => done(removeTeacher(house, params.classId, params.personId)),
    changePassword: ({ signedIn, body }) => done(changePassword(house, signedIn!, body.old, body.next)),
  };
}
