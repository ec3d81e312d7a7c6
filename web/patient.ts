import { configure } from '@testing-library/react';

/** A busy machine is no fault: what is waited for may take its time, and what never comes still ends. */
configure({ asyncUtilTimeout: 10_000 });
