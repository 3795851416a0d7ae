const answer = await Promise.resolve(40);
export const later = async () => answer + 2;
