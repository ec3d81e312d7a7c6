import type { classRoutes } from '@jotmark/core';
import { addClass } from '../assignment/set.ts';
import { teachesClass } from '../people/access.ts';
import {
  addStudents,
  addTeacher,
  changeClass,
  changePassword,
  classesOf,
  newPasswords,
  planStudents,
  readRegister,
  removeStudent,
  removeTeacher,
  returnStudent,
} from '../register/register.ts';
import { type HandlersOf, OK, type Parts } from './handler.ts';

/** Classes and who is in them. */
export function classHandlers({ house }: Parts): HandlersOf<typeof classRoutes> {
  return {
    classes: async ({ person }) => classesOf(house, person),
    addClass: async ({ person, body }) => ({
      id: await addClass(house, { ...body, teachers: [person.id], students: [] }),
    }),
    changeClass: async ({ person, params, body }) => {
      await teachesClass(house, person, params.classId);
      await changeClass(house, params.classId, body);
      return OK;
    },
    register: async ({ person, params }) => {
      await teachesClass(house, person, params.classId);
      return readRegister(house, params.classId);
    },
    planStudents: async ({ person, params, body }) => {
      await teachesClass(house, person, params.classId);
      return planStudents(house, params.classId, body.text);
    },
    addStudents: async ({ person, params, body }) => {
      await teachesClass(house, person, params.classId);
      return addStudents(house, params.classId, body.students);
    },
    removeStudent: async ({ person, params }) => {
      await teachesClass(house, person, params.classId);
      await removeStudent(house, params.classId, params.personId);
      return OK;
    },
    returnStudent: async ({ person, params }) => {
      await teachesClass(house, person, params.classId);
      await returnStudent(house, params.classId, params.personId);
      return OK;
    },
    newPasswords: async ({ person, params, body }) => {
      await teachesClass(house, person, params.classId);
      return newPasswords(house, params.classId, body.personIds);
    },
    addTeacher: async ({ person, params, body }) => {
      await teachesClass(house, person, params.classId);
      await addTeacher(house, params.classId, body.login);
      return OK;
    },
    removeTeacher: async ({ person, params }) => {
      await teachesClass(house, person, params.classId);
      await removeTeacher(house, params.classId, params.personId);
      return OK;
    },
    changePassword: async ({ person, body }) => {
      await changePassword(house, person, body.old, body.next);
      return OK;
    },
  };
}
