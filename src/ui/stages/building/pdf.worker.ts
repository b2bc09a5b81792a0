// The page never waits for a PDF: it is read here.
import 'pdfjs-dist/legacy/build/pdf.worker.mjs';
