export { catalogueAddresses, fetchItem, readCatalogue } from './catalogues';
