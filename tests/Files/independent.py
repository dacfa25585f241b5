"""Reads a WARC/1.1 file with nothing but Python's standard library, and says what it finds wrong.
Usage: independent.py FILE. Ends with 1 if anything is."""
import base64, hashlib, re, sys, zlib

data = open(sys.argv[1], 'rb').read()
wrong, records, at = [], {}, 0
while at < len(data):
    member = zlib.decompressobj(31)
    raw = member.decompress(data[at:]) + member.flush()
    if not member.eof:
        wrong.append(f'{at}: the gzip member does not end')
        break
    start, at = at, len(data) - len(member.unused_data)
    head, _, rest = raw.partition(b'\r\n\r\n')
    lines = head.decode('utf-8').split('\r\n')
    if lines[0] != 'WARC/1.1':
        wrong.append(f'{start}: {lines[0]}')
    fields = [line.split(': ', 1) for line in lines[1:]]
    names = [name.lower() for name, _ in fields]
    if len(set(names)) != len(names):
        wrong.append(f'{start}: a field stands twice')
    f = {name.lower(): value for name, value in fields}
    for name in ('warc-type', 'warc-record-id', 'warc-date', 'content-length', 'warc-block-digest'):
        if name not in f:
            wrong.append(f'{start}: no {name}')
    if not re.fullmatch(r'<urn:uuid:[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}>', f['warc-record-id']):
        wrong.append(f'{start}: odd id')
    if not re.fullmatch(r'\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d{1,9})?Z', f['warc-date']):
        wrong.append(f'{start}: odd date')
    block = rest[:int(f['content-length'])]
    if rest[int(f['content-length']):] != b'\r\n\r\n':
        wrong.append(f'{start}: the block is not as long as it says')
    payload = block
    if 'application/http' in f.get('content-type', ''):
        first, _, payload = block.partition(b'\r\n\r\n')
        if b'transfer-encoding: chunked' in first.lower():
            out, body = b'', payload
            while body:
                size, _, body = body.partition(b'\r\n')
                n = int(size.split(b';')[0], 16)
                if n == 0:
                    break
                out, body = out + body[:n], body[n + 2:]
            payload = out
    for name, what in (('warc-block-digest', block), ('warc-payload-digest', None if f['warc-type'] == 'revisit' else payload)):
        if name in f and what is not None and f[name] != 'sha256:' + hashlib.sha256(what).hexdigest():
            wrong.append(f'{start}: {name}')
    if f['warc-type'] != 'warcinfo' and 'warc-target-uri' not in f:
        wrong.append(f'{start}: no address')
    if f['warc-record-id'] in records:
        wrong.append(f'{start}: the id stands twice')
    records[f['warc-record-id']] = f
for key, f in records.items():
    for name in ('warc-concurrent-to', 'warc-refers-to', 'warc-warcinfo-id'):
        if name in f and f[name] not in records:
            wrong.append(f'{key}: {name} leads nowhere')
    if f['warc-type'] == 'request' and records.get(f.get('warc-concurrent-to', ''), {}).get('warc-type') not in ('response', 'revisit'):
        wrong.append(f'{key}: a request without its answer')
if [f['warc-type'] for f in records.values()][:1] != ['warcinfo']:
    wrong.append('the file does not begin with a warcinfo record')
print(f'{len(records)} records', *wrong, sep='\n')
sys.exit(1 if wrong else 0)
