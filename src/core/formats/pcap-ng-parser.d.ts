/** The second parser of the capture's test: it describes no types itself. */
declare module 'pcap-ng-parser' {
  const Parser: new () => NodeJS.ReadWriteStream;
  export default Parser;
}
