/** The part of the File System Access API (W3C WICG) that is used and that the compiler's library lacks. */
interface Window {
  showDirectoryPicker?(options?: { mode?: "read" | "readwrite" }): Promise<FileSystemDirectoryHandle>;
}
interface FileSystemHandle {
  requestPermission?(options: { mode: "read" | "readwrite" }): Promise<PermissionState>;
}
