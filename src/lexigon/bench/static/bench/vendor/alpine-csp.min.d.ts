// For the checker of scripts; browsers take no notice of it.
declare const Alpine: any;
export default Alpine;
