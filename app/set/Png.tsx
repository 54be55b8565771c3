import { useEffect, useState } from 'react';

/** A picture that is in memory. */
export function Png({ bytes, alt }: { readonly bytes: Uint8Array; readonly alt: string }) {
  const [url, setUrl] = useState('');
  useEffect(() => {
    const made = URL.createObjectURL(new Blob([bytes as Uint8Array<ArrayBuffer>], { type: 'image/png' }));
    setUrl(made);
    return () => URL.revokeObjectURL(made);
  }, [bytes]);
  return url ? <img src={url} alt={alt} /> : <span className="no-picture" />;
}
