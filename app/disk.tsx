export { DiskView as default } from '../ui/disk/disk-view';
