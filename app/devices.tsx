export { DeviceList as default } from '../ui/door/device-list';
