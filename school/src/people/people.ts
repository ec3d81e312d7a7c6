/** Made-up people. Two are alike on purpose, some are long, some have letters that few fonts know. */
export const SCHOOL_NAME = 'Hollin Bay School';
export const CLASS_NAME = '7K';
export const UNIT = 'Reading maps: Hollin Island';

export const TEACHER = { given: 'Maren', family: 'Quillfeather', login: 'quillfeather' };

export const STUDENTS: readonly { readonly given: string; readonly family: string }[] = [
  ['Noor', 'Abadi-Whitlock'],
  ['Mila', 'Achterberg'],
  ['Tove', 'Bäcklund'],
  ['Inés', 'Castellano-Ruiz'],
  ['Zofia', 'Dabrowska'],
  ['Chidubem', 'Eze'],
  ['Sina', 'Fonoti'],
  ['Radu', 'Gheorghiu'],
  ['Finn', 'Halloran'],
  ['Maite', 'Ibarra'],
  ['Oskars', 'Jansons'],
  ['Wanjiru', 'Kamau'],
  ['Aleksander', 'Kowalczyk'],
  ['Aleksandra', 'Kowalczyk'],
  ['Saga', 'Lindqvist'],
  ['Kofi', 'Mbeki-Osei'],
  ['Hana', 'Nakamura'],
  ['Thảo Vy', 'Nguyễn'],
  ['Caoimhe', 'O’Dwyer'],
  ['Leonidas', 'Petridis-Papanikolaou'],
  ['Illari', 'Quispe'],
  ['Daryan', 'Rahimi'],
  ['Eino', 'Saarinen'],
  ['Katla', 'Þórsdóttir'],
  ['Kaur', 'Tamm'],
  ['Defne', 'Ünal'],
  ['Mateo', 'Valdés'],
  ['Aylin', 'Yilmaz-Brandt'],
].map(([given, family]) => ({ given: given!, family: family! }));

/** What a student types to sign in: letters without accents, given name dot family name. */
export function loginOf(person: { given: string; family: string }): string {
  const plain = (s: string) =>
    s
      .normalize('NFD')
      .replaceAll('Þ', 'Th')
      .replaceAll('þ', 'th')
      .replaceAll('ð', 'd')
      .replace(/[^A-Za-z]/g, '')
      .toLowerCase();
  return `${plain(person.given)}.${plain(person.family)}`;
}

/** The other class of the same teacher, and the colleague who shares the first. */
export const SECOND_CLASS = { name: '7M', unit: 'Weather and climate' } as const;
/** Who looks after the accounts of the school. */
export const ADMINISTRATOR = { given: 'Bram', family: 'Ossler', login: 'ossler' };
export const COLLEAGUE = { given: 'Idris', family: 'Holloway', login: 'holloway' };
export const SECOND_STUDENTS: readonly { readonly given: string; readonly family: string }[] = [
  ['Amara', 'Brightwell'],
  ['Joon', 'Chae'],
  ['Lucia', 'Fontanelli'],
  ['Ebbe', 'Granqvist'],
  ['Samira', 'Haddadi'],
  ['Kofi', 'Mensah-Lowe'],
  ['Rosa', 'Pinheiro'],
  ['Theo', 'Winterbourne'],
].map(([given, family]) => ({ given: given!, family: family! }));
