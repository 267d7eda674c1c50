/** What the package offers for browsers, and its types leave out. */
declare module 'pdfkit/output' {
  export function toBlob(document: PDFKit.PDFDocument): Promise<Blob>
}
