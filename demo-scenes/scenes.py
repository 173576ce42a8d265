"""Lantern-evening demo scenes, Mitsuba 3 (llvm_ad_rgb) + Open Image Denoise.
   venv/bin/python scenes.py NAME LONG_EDGE SPP [OUTDIR]
   NAME: quay_lanterns glass_float harbour_wall lighthouse framed_chart lantern_pole paper_boat market_stall"""
import os, sys, time, tempfile
import glob
os.environ.setdefault('DRJIT_LIBLLVM_PATH', next(iter(glob.glob('/usr/lib/*/libLLVM-19.so*')), ''))   # from Debian's libllvm19
import numpy as np
from scipy import ndimage as ndi
import mitsuba as mi
mi.set_variant('llvm_ad_rgb')
import drjit as dr
T = mi.ScalarTransform4f
TMP = tempfile.mkdtemp(prefix='meshes_', dir=os.path.dirname(os.path.abspath(__file__)))
import atexit, shutil; atexit.register(shutil.rmtree, TMP, True)
pi = np.pi

# ---------- noise ----------
def fbm(h, w=None, beta=2.2, seed=0, ax=1., ay=1., lo=0.):
    w = w or h
    r = np.random.default_rng(seed)
    f = np.fft.rfft2(r.standard_normal((h, w)))
    fy = np.fft.fftfreq(h)[:, None]*h*ay; fx = np.fft.rfftfreq(w)[None]*w*ax
    k = np.sqrt(fx**2+fy**2); k[0, 0] = 1
    a = k**(-beta/2)
    a[k < lo] = 0
    a[0, 0] = 0
    n = np.fft.irfft2(f*a, s=(h, w))
    return np.clip(.5+(n-n.mean())/(n.std()+1e-9)*.18, 0, 1).astype(np.float32)

_waves = {}
def wavetile(seed=0, n=1024, wind=.6, spread=1.5, kp=8, slope=5.4):
    key = (seed, wind, spread, kp, slope)
    if key not in _waves:
        r = np.random.default_rng(seed)
        f = np.fft.rfft2(r.standard_normal((n, n)))
        fy = np.fft.fftfreq(n)[:, None]*n; fx = np.fft.rfftfreq(n)[None]*n
        k = np.hypot(fx, fy); k[0, 0] = 1
        ang = np.arctan2(fy, fx)-wind
        a = k**(-slope/2)*np.exp(-(kp/k)**2)*(np.abs(np.cos(ang))**spread+.15)
        a[0, 0] = 0
        h = np.fft.irfft2(f*a, s=(n, n)); _waves[key] = (h/h.std()).astype(np.float32)
    return _waves[key]

def samp(tile, x, y):
    h, w = tile.shape[:2]
    return ndi.map_coordinates(tile, [(np.asarray(y) % 1)*h, (np.asarray(x) % 1)*w], order=1, mode='grid-wrap')

def lerp(a, b, t):
    t = np.asarray(t)[..., None] if np.ndim(t) else t
    return np.asarray(a)*(1-t)+np.asarray(b)*t
def sstep(a, b, x):
    t = np.clip((x-a)/(b-a), 0, 1); return t*t*(3-2*t)

# ---------- meshes ----------
class M:
    def __init__(s): s.V=[]; s.F=[]; s.U=[]; s.C=[]; s.n=0
    def add(s, V, F, U=None, C=(1,1,1)):
        V = np.asarray(V, np.float32).reshape(-1,3); F = np.asarray(F, np.int64).reshape(-1,3)
        if U is None: U = V[:, :2]
        s.V.append(V); s.F.append(F+s.n); s.U.append(np.asarray(U, np.float32).reshape(-1,2))
        C = np.asarray(C, np.float32); s.C.append(np.broadcast_to(C, V.shape) if C.ndim == 1 else C)
        s.n += len(V); return s
    def shape(s, bsdf, emit=None, smooth=True, name='m'):
        V = np.concatenate(s.V); F = np.concatenate(s.F); U = np.concatenate(s.U); C = np.concatenate(s.C)
        m = mi.Mesh('m', len(V), len(F), has_vertex_normals=smooth, has_vertex_texcoords=True)
        m.add_attribute('vertex_color', 3, np.ascontiguousarray(C).ravel())
        p = mi.traverse(m)
        p['vertex_positions'] = V.ravel(); p['faces'] = F.astype(np.uint32).ravel(); p['vertex_texcoords'] = U.ravel()
        if smooth:
            e1 = V[F[:,1]]-V[F[:,0]]; e2 = V[F[:,2]]-V[F[:,0]]; fn = np.cross(e1, e2)
            N = np.stack([sum(np.bincount(F[:,k], fn[:,c], len(V)) for k in range(3)) for c in range(3)], 1)
            N /= np.linalg.norm(N, axis=1, keepdims=True)+1e-20
            p['vertex_normals'] = N.astype(np.float32).ravel()
        p.update()
        fn = f'{TMP}/{name}_{time.time_ns()}.ply'; m.write_ply(fn)
        d = {'type': 'ply', 'filename': fn, 'face_normals': not smooth, 'bsdf': bsdf}
        if emit is not None: d['emitter'] = {'type': 'area', 'radiance': emit}
        return d

def grid_faces(n, m, wrapm=False):
    i = np.arange(n-1)[:, None]; mm = m if wrapm else m-1
    j = np.arange(mm)[None]; j2 = (j+1) % m
    a, b, c, d = i*m+j, i*m+j2, (i+1)*m+j, (i+1)*m+j2
    return np.concatenate([np.stack([a,b,d],-1).reshape(-1,3), np.stack([a,d,c],-1).reshape(-1,3)])

def rotz(a): c,s=np.cos(a),np.sin(a); return np.array([[c,-s,0],[s,c,0],[0,0,1.]])
def rotx(a): c,s=np.cos(a),np.sin(a); return np.array([[1,0,0],[0,c,-s],[0,s,c.item() if hasattr(c,'item') else c]])
def roty(a): c,s=np.cos(a),np.sin(a); return np.array([[c,0,s],[0,1,0],[-s,0,c]])

def box(m, c, size, R=None, col=(1,1,1), bev=0., uvs=1., uvo=(0,0)):
    """box, optionally with a bevel; UV in metres*uvs along its longest axes"""
    h = np.array(size)/2.; c = np.array(c, float); b = min(bev, h.min()*.45)
    R = np.eye(3) if R is None else R
    for ax in range(3):
        u, v = (ax+1) % 3, (ax+2) % 3
        for sg in (-1, 1):
            P = np.zeros((4,3)); P[:,ax] = sg*h[ax]
            P[:,u] = np.array([-1,1,1,-1])*(h[u]-b); P[:,v] = np.array([-1,-1,1,1])*(h[v]-b)
            lu, lv = (u, v) if h[u] >= h[v] else (v, u)
            U = np.stack([P[:,lu], P[:,lv]], 1)*uvs+np.array(uvo)+ax*.37
            F = [[0,1,2],[0,2,3]] if sg > 0 else [[0,2,1],[0,3,2]]
            m.add(P@R.T+c, F, U, col)
    if b > 0:
        for ax in range(3):
            u, v = (ax+1) % 3, (ax+2) % 3
            for su in (-1,1):
                for sv in (-1,1):
                    P = np.zeros((4,3))
                    P[:,ax] = np.array([-1,1,1,-1])*(h[ax]-b)
                    P[:2,u] = su*h[u]; P[:2,v] = sv*(h[v]-b)
                    P[2:,u] = su*(h[u]-b); P[2:,v] = sv*h[v]
                    U = np.stack([P[:,ax], P[:,u]*.3], 1)*uvs+np.array(uvo)
                    F = [[0,1,2],[0,2,3]] if su*sv > 0 else [[0,2,1],[0,3,2]]
                    m.add(P@R.T+c, F, U, np.clip(np.array(col)*1.12,0,1))
        for sx in (-1,1):
            for sy in (-1,1):
                for sz in (-1,1):
                    s = np.array([sx,sy,sz]); P = np.array([s*(h-b)+s*np.eye(3)[k]*b for k in range(3)])
                    m.add(P@R.T+c, [[0,1,2]] if sx*sy*sz > 0 else [[0,2,1]], None, col)

def lathe(m, prof, c=(0,0,0), seg=32, R=None, col=(1,1,1), uvs=(1,1), colf=None, warp=None):
    """prof: list of (r,z) bottom to top"""
    prof = np.array(prof, float); n = len(prof)
    a = np.linspace(0, 2*pi, seg+1)
    V = np.stack([prof[:,None,0]*np.cos(a), prof[:,None,0]*np.sin(a), np.broadcast_to(prof[:,None,1], (n,seg+1))], -1)
    s = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(prof, axis=0).T))]); s /= max(s[-1], 1e-9)
    U = np.stack(np.broadcast_arrays(a[None]/(2*pi)*uvs[0], s[:,None]*uvs[1]), -1)
    C = np.broadcast_to(np.array(col, float), V.shape) if colf is None else colf(a[None]+0*s[:,None], s[:,None]+0*a[None])
    if warp is not None: V = warp(V)
    V = V.reshape(-1,3)
    if R is not None: V = V@R.T
    m.add(V+np.array(c), grid_faces(n, seg+1), U.reshape(-1,2), np.asarray(C).reshape(-1,3))

def tube(m, path, r, seg=8, col=(1,1,1), strands=0, pitch=.05, amp=.18, uvs=1.):
    P = np.asarray(path, float); n = len(P)
    t = np.gradient(P, axis=0); t /= np.linalg.norm(t, axis=1, keepdims=True)+1e-12
    up = np.array([0,0,1.]) if abs(t[:,2]).mean() < .9 else np.array([1.,0,0])
    a1 = np.cross(t, up); a1 /= np.linalg.norm(a1, axis=1, keepdims=True)+1e-12; a2 = np.cross(t, a1)
    s = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(P, axis=0), axis=1))])
    th = np.linspace(0, 2*pi, seg+1)
    rr = np.broadcast_to(np.asarray(r, float).reshape(-1,1), (n, seg+1)).copy()
    if strands: rr *= 1-amp+amp*np.abs(np.cos(strands/2*(th[None]-2*pi*s[:,None]/pitch/strands)))*1.6
    V = P[:,None]+rr[...,None]*(np.cos(th)[None,:,None]*a1[:,None]+np.sin(th)[None,:,None]*a2[:,None])
    U = np.stack(np.broadcast_arrays(s[:,None]*uvs, th[None]/(2*pi)), -1)
    C = np.array(col, float)
    if strands:
        C = C*(0.55+.45*((rr/np.asarray(r).reshape(-1,1) if np.ndim(r) else rr/r)[...,None]-(1-amp))/(amp*1.6))
        C = C.reshape(-1,3)
    m.add(V.reshape(-1,3), grid_faces(n, seg+1), U.reshape(-1,2), C)

def catenary(a, b, sag, n=24):
    t = np.linspace(0,1,n)[:,None]; P = np.array(a)*(1-t)+np.array(b)*t
    P[:,2] -= (4*sag*t*(1-t))[:,0]; return P

def blob(m, c, r, seed=0, rough=.25, col=(1,1,1), n=24, squash=(1,1,1)):
    """irregular stone"""
    th = np.linspace(0, pi, n); ph = np.linspace(0, 2*pi, 2*n+1)
    d = np.stack([np.sin(th)[:,None]*np.cos(ph), np.sin(th)[:,None]*np.sin(ph), np.cos(th)[:,None]+0*ph], -1)
    t = fbm(128, beta=3., seed=seed); q = (samp(t, d[...,0]*.21+.3, d[...,1]*.21+d[...,2]*.17)-.5)*2
    V = d*(1+rough*q*2)[...,None]*r*np.array(squash)
    m.add((V+np.array(c)).reshape(-1,3), grid_faces(n, 2*n+1)[:, ::-1], None, col)

# ---------- materials ----------
def tex(a, raw=True, filt='bilinear', scale=None):
    a = np.ascontiguousarray(np.asarray(a, np.float32))
    if a.ndim == 2: a = a[..., None]
    d = {'type':'bitmap','bitmap':mi.Bitmap(a),'raw':raw,'filter_type':filt,'wrap_mode':'repeat'}
    if scale is not None: d['to_uv'] = T().scale([scale[0], scale[1], 1])
    return d
VC = {'type':'mesh_attribute','name':'vertex_color'}
def rgb(*c): return {'type':'rgb','value':list(c)}
def two(b): return {'type':'twosided','bsdf':b}
def rough(color, alpha=.3, spec=.5, bump=None, bscale=1., ior=1.5):
    """diffuse if matt, else rough plastic (principled looks the same here and costs 2-3x)"""
    c = color if isinstance(color, dict) else rgb(*color)
    if isinstance(alpha, dict): alpha = .28
    if c.get('type')=='mesh_attribute' and alpha < .7: b = {'type':'principled','base_color':c,'roughness':alpha,'specular':spec}
    elif alpha >= .7: b = {'type':'diffuse','reflectance':c}
    else: b = {'type':'roughplastic','diffuse_reflectance':c,'alpha':max(.04,alpha**1.5),'int_ior':1.5,'nonlinear':False,'specular_reflectance':rgb(*[min(1,spec*1.4)]*3)}
    if bump is not None: b = {'type':'bumpmap','arbitrary':bump,'scale':bscale,'bsdf':b}
    return two(b)
def diff(color): return two({'type':'diffuse','reflectance':color if isinstance(color, dict) else rgb(*color)})

def woodtex(h=1024, w=2048, seed=0, c0=(.10,.075,.055), c1=(.36,.29,.22), grey=.0):
    y = np.linspace(0,1,h)[:,None]; x = np.linspace(0,1,w)[None]
    n1 = fbm(h,w,2.6,seed,ax=10.,ay=1.); n2 = fbm(h,w,1.5,seed+1,ax=26.,ay=1.); n3 = fbm(h,w,2.4,seed+2)
    rings = .5+.5*np.sin(2*pi*(y*9+n1*7+n3*.8)); rings = rings**.6
    g = np.clip(.45*rings+.75*(n2-.5)+.35*(n1-.2)+.0, 0, 1)
    crack = sstep(.80,.86, fbm(h,w,1.9,seed+5,ax=40.,ay=1.))
    col = lerp(c0, c1, g)*(1-.8*crack[...,None])*(0.75+.5*n3)[...,None]
    if grey: col = lerp(col, col.mean(-1,keepdims=True)*np.array([1.0,1.0,1.0])*1.1, np.full((h,w), grey))
    return col.astype(np.float32), (g*.5+.5*n2-crack*1.2).astype(np.float32)

def stonetex(h=1024, w=1024, seed=0, c0=(.17,.16,.145), c1=(.40,.38,.34)):
    a = fbm(h,w,2.2,seed); b = fbm(h,w,1.2,seed+1); c = fbm(h,w,3.,seed+2)
    g = np.clip(.55*a+.3*b+.3*c-.1,0,1)
    col = lerp(c0,c1,g)
    col = lerp(col, col*np.array([1.08,1.0,.82])*.8, sstep(.5,.75,c))
    col = lerp(col, col*.45, sstep(.72,.8,b)*.6)
    return col.astype(np.float32), (a*.6+b*.4).astype(np.float32)

# ---------- sky ----------
def sky(zen, hor, glow=None, gdir=0., gw=.9, clouds=0., ccol=(1,1,1), cdark=(.4,.42,.48), sun=None, sunI=0., sunr=.7,
        ground=(.05,.05,.05), seed=3, cs=.16, pw=.45, H=2048, cth=.52, suncol=(1,.86,.66), ch=.0):
    W = 2*H
    th = (np.arange(H)+.5)/H*pi; az = (np.arange(W)+.5)/W*2*pi
    el = pi/2-th; D = np.stack(np.broadcast_arrays(np.sin(th)[:,None]*np.sin(az), np.sin(th)[:,None]*np.cos(az), np.cos(th)[:,None]), -1)
    t = np.clip(np.sin(np.maximum(el,0)),0,1)**pw
    im = lerp(hor, zen, np.repeat(t[:,None],W,1))
    if glow is not None:
        da = np.angle(np.exp(1j*(az-gdir)))
        g = np.exp(-(da/gw)**2)[None]*np.exp(-(np.maximum(el,0)/.17))[:,None]
        im = im+np.array(glow)*g[...,None]
    if clouds:
        z = np.maximum(D[...,2],.012)+.05
        cx, cy = D[...,0]/z*cs, D[...,1]/z*cs
        n = fbm(2048,2048,3.3,seed,ax=1.,ay=1.5)*.86+fbm(2048,2048,2.0,seed+1)*.14; hh=H//2
        d = np.zeros((H,W),np.float32); d2=d.copy(); d[:hh] = samp(n,cx[:hh],cy[:hh]); d2[:hh] = samp(n,cx[:hh]+.012,cy[:hh]+.012)
        den = sstep(cth,cth+.30,d)*clouds*np.clip((D[...,2]-ch)*16,0,1)
        lit = np.clip(.55+(d-d2)*5-(d-cth)*1.1,0,1)
        im = lerp(im, np.array(cdark)*(1-lit[...,None])+np.array(ccol)*lit[...,None], den)
    if sun is not None:
        s = np.array(sun,float); s/=np.linalg.norm(s); c = (D*s).sum(-1); ang = np.degrees(np.arccos(np.clip(c,-1,1)))
        im = im+np.array(suncol)*(np.exp(-(ang/9)**1.2)*.5)[...,None]*min(1,sunI)
        im = im+np.array(suncol)*sunI*(ang<sunr)[...,None]
    gm = sstep(-.006,-.03,el)  # horizon colour runs a little below 0 so no dark seam shows past the water's edge
    im = lerp(im, ground, np.repeat(gm[:,None],W,1))
    return {'type':'envmap','bitmap':mi.Bitmap(np.ascontiguousarray(im.astype(np.float32))),'to_world':T().rotate([1,0,0],90)}

# ---------- water ----------
def water(cam, yaw, half=.75, rmin=1., rmax=4000., nr=700, na=900, amps=((300,.25),(60,.06),(11,.012)), seed=0, wind=.7, z0=0., clip=None):
    """polar fan grid around the camera, waves in every octave the grid resolves"""
    r = rmin*(rmax/rmin)**np.linspace(0,1,nr); a = yaw+np.linspace(-half,half,na)
    X = cam[0]+r[:,None]*np.sin(a); Y = cam[1]+r[:,None]*np.cos(a)
    Z = np.zeros_like(X); dr_ = r*np.log(rmax/rmin)/nr; da = r*2*half/na; sp = np.maximum(dr_,da)[:,None]
    for i,(L,A) in enumerate(amps):
        tl = wavetile(seed+i, wind=wind+.5*i, spread=1.2)
        fade = np.clip(1.4-sp/(L/30.),0,1)
        Z += A*fade*samp(tl, X/L+.13*i, Y/L+.29*i)
    m = M(); m.add(np.stack([X,Y,Z+z0],-1).reshape(-1,3), grid_faces(nr,na)[:, ::-1], np.stack([X,Y],-1).reshape(-1,2)*.25)
    return m
def watermat(col=(.012,.025,.03), alpha=.06, bump=True, bs=.05, tilescale=.5):
    b = {'type':'roughplastic','diffuse_reflectance':rgb(*col),'alpha':alpha,'int_ior':1.33,'nonlinear':False}
    if bump: b = {'type':'bumpmap','arbitrary':tex(wavetile(77,kp=5,slope=4.6)*.5,scale=(tilescale,tilescale)),'scale':bs,'bsdf':b}
    return two(b)

# ---------- lanterns ----------
def lantern(paper, dark, c, R=.15, H=.32, kind='round', col=(1,.55,.2), I=6., seed=0, seg=36, ribs=9, tilt=0., flame=.38):
    rng = np.random.default_rng(seed); n = ribs*6+1; z = np.linspace(0,1,n)
    if kind == 'round': r = R*(1-np.abs(2*z-1)**2.3*.80)**.62
    elif kind == 'tall': r = R*(.90+.10*np.sin(z*pi))*(1-.25*np.abs(2*z-1)**8)
    else: r = R*(.55+.45*z)*(1-.15*np.abs(2*z-1)**6)
    rb = np.abs(np.sin(z*ribs*pi)); r = r*(.955+.045*rb)
    prof = np.stack([r, (z-.5)*H], 1)
    nt = fbm(128,128,2.0,seed%7+11); off = rng.random(2); br = rng.uniform(.75,1.2)
    col = np.array(col)*I*br
    def cf(a,s):
        g = .32+1.0*np.exp(-((s-flame)/.30)**2)
        g = g*(.62+.38*np.clip(np.abs(np.sin(s*ribs*pi))*1.9,0,1))
        g = g*(.72+.55*samp(nt,a/(2*pi)+off[0],s*.7+off[1]))
        g = g*(1-.35*(np.abs(np.angle(np.exp(1j*(a-off[0]*6))))<.02))
        hot = np.clip(g-.9,0,1)[...,None]
        return col*g[...,None]*(1+hot*np.array([.0,.25,.35]))
    R3 = rotz(rng.random()*6)@roty(tilt)
    c = np.array(c,float)
    lathe(paper, prof, c, seg, R3, colf=cf)
    e = r[0]
    for zz,s in ((-.5,-1),(.5,1)):
        k = .035*H/.32
        lathe(dark,[(e*.6,zz*H-s*k*.3),(e*1.04,zz*H-s*k*.3),(e*1.04,zz*H+s*k),(e*.55,zz*H+s*k)][::s],c,20,R3,(.05,.035,.025))
    tube(dark,[c+np.array([0,0,H*.5]),c+np.array([0,0,H*.5+.07])],.004,5,(.05,.04,.03))

# ---------- render + finish ----------
def camera(o, t, fov, w, h, ap=0., focus=None, roll=0., up=(0,0,1)):
    o,t = np.array(o,float),np.array(t,float); d=(t-o)/np.linalg.norm(t-o)
    x = np.cross(d,up); x/=np.linalg.norm(x); u=np.cross(x,d); a=np.radians(roll); u = u*np.cos(a)+x*np.sin(a)
    c = {'type':'thinlens' if ap>0 else 'perspective','fov':fov,'fov_axis':'larger','near_clip':.01,'far_clip':20000.,
         'to_world':T().look_at(origin=list(o),target=list(t),up=list(u)),
         'film':{'type':'hdrfilm','width':w,'height':h,'pixel_format':'rgb','component_format':'float32','rfilter':{'type':'box'}},
         'sampler':{'type':'independent'}}
    if ap>0: c['aperture_radius']=ap; c['focus_distance']=float(focus if focus else np.linalg.norm(t-o))
    return c

def render(shapes, cam, spp=16, depth=6, clampv=30., chunk=9e6):
    A='al:albedo,nn:sh_normal,dd:depth'; hasglass=any(isinstance(s,dict) and s.get('_glass') for s in shapes)
    def load(integ,skip):
        d={'type':'scene','integrator':integ,'sensor':cam}
        for i,s in enumerate(shapes):
            if skip and s.get('_glass'): continue
            d[f's{i}']={k:v for k,v in s.items() if k!='_glass'}
        return mi.load_dict(d)
    w,h = cam['film']['width'],cam['film']['height']
    def run(sc,spp,seed0):
        per=max(1,int(chunk//(w*h))); acc=None; done=0; k=0
        while done<spp:
            n=min(per,spp-done); a=np.nan_to_num(np.array(mi.render(sc,spp=n,seed=seed0+k))); a[...,:3]=np.clip(a[...,:3],0,clampv)
            acc=a*n if acc is None else acc+a*n; done+=n; k+=1
        return acc/spp
    path={'type':'path','max_depth':depth,'rr_depth':4}
    if not hasglass: return run(load({'type':'aov','aovs':A,'img':path},False),spp,1).astype(np.float32)
    col=run(load(path,False),spp,1)[...,:3]
    aux=run(load({'type':'aov','aovs':A,'img':{'type':'direct','emitter_samples':0,'bsdf_samples':0} if False else {'type':'path','max_depth':1}},True),max(4,spp//2),50)
    return np.concatenate([col,aux[...,-7:]],-1).astype(np.float32)

def denoise(a):
    from pyoidn import denoise as dn
    out = dn(np.ascontiguousarray(a[...,:3]), albedo=np.ascontiguousarray(np.clip(a[...,3:6],0,1)), normal=np.ascontiguousarray(a[...,6:9]), hdr=True)
    return np.asarray(out) if out is not None else a[...,:3]

def film(x):  # filmic curve with highlight desaturation
    Min=np.array([[.84,.11,.05],[.07,.85,.08],[.06,.12,.82]],np.float32); x=x@Min.T
    y=(x*(2.51*x+.03))/(x*(2.43*x+.59)+.14); return np.clip(y,0,1)

def finish(a, ev=0., haze=None, hazek=0., bloom=.06, bloomt=1., grain=.018, vig=.28, seed=1, warm=(1,1,1), sat=1.0, lift=.0, dn=None):
    im = (denoise(a) if dn is None else dn).astype(np.float32); h,w=im.shape[:2]; S=w/1000. if w>h else h/1000.
    if haze is not None:
        dp=a[...,9]; f=1-np.exp(-dp*hazek); f[dp<=0]=0
        im=im*(1-f[...,None])+np.array(haze,np.float32)*f[...,None]
    im=im*(2.**ev)*np.array(warm,np.float32)
    if bloom:
        b=np.minimum(np.maximum(im-bloomt,0),12.)
        k=max(1,int(round(S*1.2))); bs=b[::k,::k]
        g=sum(wt*ndi.gaussian_filter(bs,(sg*S/k,sg*S/k,0)) for sg,wt in ((3,.45),(12,.35),(45,.2)))
        g=ndi.zoom(g,(h/g.shape[0],w/g.shape[1],1),order=1)[:h,:w]
        im=im+bloom*g*np.array([1.,.9,.8],np.float32)*3
    yy,xx=np.mgrid[0:h,0:w].astype(np.float32); rr=(((xx-w/2)**2+(yy-h/2)**2)/((w/2)**2+(h/2)**2))
    im*= (1-vig*rr**1.1)[...,None]
    y=film(im*.8)
    y=np.where(y<.0031308,12.92*y,1.055*np.maximum(y,1e-6)**(1/2.4)-.055)
    L=y.mean(-1,keepdims=True); y=L+(y-L)*sat; y=lift+y*(1-lift)
    if w>=1200:  # lateral colour
        for c,sc in ((0,1.00035),(2,.99965)):
            y[...,c]=ndi.affine_transform(y[...,c],[1/sc,1/sc],offset=[h/2*(1-1/sc),w/2*(1-1/sc)],order=1,mode='nearest')
    r=np.random.default_rng(seed); sg=.55 if w<1200 else .8
    n=ndi.gaussian_filter(r.standard_normal((h,w)).astype(np.float32),sg); n/=n.std()
    nc=ndi.gaussian_filter(r.standard_normal((h,w,3)).astype(np.float32),(sg,sg,0)); nc/=nc.std()
    L=y.mean(-1); amt=.62*grain*(.45+1.1*np.sqrt(np.clip(L*(1-L),0,.25))*1.6)
    y=y+amt[...,None]*(n[...,None]*.8+nc*.45)
    return (np.clip(y,0,1)*255+.5).astype(np.uint8)

# ================= scenes =================
from PIL import Image, ImageDraw, ImageFont, ImageFilter
rgbs = dict(amber=(1.,.50,.16), red=(1.,.20,.07), cream=(1.,.72,.40), teal=(.35,.85,.62))

def hills(dist, height, span, yaw, base, seed, col, n=500, z0=0.):
    t = fbm(8,2048,2.0,seed)[4]; t2 = fbm(8,2048,1.3,seed+9)[2]
    a = yaw+np.linspace(-span,span,n); x = np.linspace(.1,.9,n)
    k=np.linspace(0,2047,n)
    hh = height*(.35+1.1*np.interp(k,np.arange(2048),ndi.gaussian_filter1d(t,14))*np.sin(x*pi)**.5+.05*np.interp(k,np.arange(2048),t2))
    rows=14; m=M(); V=[];C=[]
    tx=fbm(rows*8,n,1.6,seed+3)[::8]
    for r in range(rows):
        f=r/(rows-1); dd=dist*(1+.35*f)
        V.append(np.stack([np.sin(a)*dd,np.cos(a)*dd,hh*f**.8*(1+.03*(tx[r]-.5))+z0-.2],1)); C.append(np.array(col)*(.55+.9*tx[r])[:,None])
    m.add(np.concatenate(V),grid_faces(rows,n)[:, ::-1],None,np.concatenate(C)); return m

def quay_lanterns(w,h):
    rng=np.random.default_rng(5); sh=[]
    cam=(3.35,-2.6,.42); tgt=(1.55,8,1.18); WZ=-.95; pts=[]
    # flagstones
    col,hm=stonetex(1024,1024,4,(.15,.145,.14),(.36,.34,.31))
    m=M()
    y=-1.5
    while y<60:
        L=rng.uniform(.5,.8); x=-7.
        while x<1.35:
            W=min(rng.uniform(.6,1.2),1.4-x); W=max(W,.25)
            dz=rng.normal(0,.006); R=rotx(rng.normal(0,.008))@roty(rng.normal(0,.008))
            box(m,(x+W/2,y+L/2,-.1+dz),(W-.014,L-.014,.2),R,bev=.018,uvs=.4,uvo=tuple(rng.random(2)*9)); x+=W
        y+=L
    y=-1.5
    while y<60:
        L=rng.uniform(.9,1.5); box(m,(1.65,y+L/2,-.02+rng.normal(0,.006)),(.5,L-.012,.24),bev=.03,uvs=.4,uvo=tuple(rng.random(2)*9)); y+=L
    # quay face courses
    for k in range(5):
        y=-1.5
        while y<60:
            L=rng.uniform(.7,1.5); box(m,(1.72+rng.normal(0,.012),y+L/2,-.33-.36*k),(.3,L-.02,.34),bev=.03,uvs=.4,uvo=tuple(rng.random(2)*9)); y+=L
    al=.35+.4*hm
    sh.append(m.shape(rough(tex(col*.8),tex(np.clip(.16+.5*ndi.gaussian_filter(hm,3),.1,1)),.6,tex(hm,),.02),smooth=False,name='stone'))
    g=M(); g.add([[-8,-3,-.09],[1.6,-3,-.09],[1.6,70,-.09],[-8,70,-.09]],[[0,1,2],[0,2,3]]); sh.append(g.shape(diff((.03,.03,.028))))
    # bollards + rope
    dk=M()
    for yb in (3.2,9.5,16,24):
        lathe(dk,[(.14,0),(.13,.05),(.10,.12),(.09,.30),(.15,.36),(.16,.41),(.12,.46),(0,.48)],(1.55,yb,.1),28,None,(.045,.04,.038))
    # poles with strings
    paper=M(); rope=M(); k=0
    wood=M()
    py=[1.6,5.6,9.8,14.2,19,24.5,31,39]
    xs=(-1.55,1.28)
    tops={}
    for j,yy in enumerate(py):
        for sx,x in enumerate(xs):
            hh=2.75+rng.normal(0,.06); lean=rng.normal(0,.03,2)
            P=np.array([[x,yy,0],[x+lean[0]*.5,yy+lean[1]*.5,hh*.5],[x+lean[0],yy+lean[1],hh]])
            P=np.array([np.interp(np.linspace(0,2,14),range(3),P[:,c]) for c in range(3)]).T
            tube(wood,P,np.linspace(.045,.034,14),14,(.22,.15,.10)); tops[j,sx]=P[-1]-np.array([0,0,.08])
    def hang(a,b,sag,n):
        nonlocal k
        C=catenary(a,b,sag,40); tube(rope,C,.007,6,(.10,.085,.065))
        for t in (np.arange(n)+.5)/n+rng.normal(0,.018,n):
            i=int(np.clip(t,0,.99)*39); p=C[i]; kind=rng.choice(['round','round','tall','cone']); R=rng.uniform(.115,.16); H=R*rng.uniform(2.0,2.5)*(1.2 if kind=='tall' else 1)
            cn=rng.choice(['amber','amber','amber','cream','red']); I={'amber':2.3,'cream':1.9,'red':1.5}[cn]
            pc=p-np.array([0,0,H/2+.075]); lantern(paper,dk,pc,R,H,kind,np.array(rgbs[cn])*np.array([1,.82,.62]),I*.36,seed=k,tilt=rng.normal(0,.07),seg=30,ribs=10); k+=1
            if pc[1]<26 and (pc[1]<9 or k%2==0): pts.append({'type':'point','position':[float(v) for v in pc-np.array([0,0,H/2+.07])],'intensity':rgb(*(np.array(rgbs[cn])*np.array([1,.85,.7])*.30*(1 if pc[1]<9 else 2)))})
    for j in range(len(py)-1):
        for sx in (0,1): hang(tops[j,sx],tops[j+1,sx],.30,6)
        if j%2==0: hang(tops[j,0],tops[j,1],.25,4)
    hang(tops[0,1]+np.array([.1,-4.,.25]),tops[0,1],.28,6)
    for (px,py_,ph,j) in ((6.1,7.2,2.7,1),(6.6,15.5,2.7,3)):
        q=np.array([px,py_,WZ+ph]); tube(wood,[[px+.1,py_,WZ-1],[px+.03,py_,WZ+1],q+np.array([0,0,.15])],.085,14,(.13,.10,.075)); hang(tops[j,1],q,.42,7)
    hang(tops[0,0]+np.array([-.1,-4.,.1]),tops[0,0],.28,6)
    sh+= [paper.shape(diff((.55,.45,.33)),emit=VC,name='paper'),rope.shape(diff(VC)),dk.shape(rough(VC,.45)),wood.shape(rough(VC,.6,.3))]
    # moored boat hulls, far side of the harbour: houses with lit windows
    lit=M(); hs=M()
    for i in range(46):
        a=.10+.62*rng.random(); d=rng.uniform(150,230); x,yy=np.sin(a)*d,np.cos(a)*d; z=max(0,(d-150)*.16)+1; s=rng.uniform(5,8)
        c=np.array([(.30,.27,.25),(.36,.30,.26),(.27,.28,.31),(.33,.24,.22)][rng.integers(4)])*.8
        R=rotz(-a+rng.normal(0,.2)); box(hs,(x,yy,z+s*.4),(s*1.2,s,s*.9),R,c)
        V=np.array([[-.64,-.55,0],[.64,-.55,0],[.64,.55,0],[-.64,.55,0],[-.64,0,.42],[.64,0,.42]])*s; 
        hs.add(V@R.T+np.array([x,yy,z+s*.84]),[[0,1,5],[0,5,4],[3,4,5],[3,5,2],[0,4,3],[1,2,5]],None,(.10,.075,.07))
        for _ in range(rng.integers(1,4)):
            o=R@np.array([rng.uniform(-.45,.45)*s,-.52*s,rng.uniform(.15,.7)*s]); box(lit,np.array([x,yy,z])+o,(s*.10,.12,s*.14),R,np.array([1.,.62,.28])*rng.uniform(1.5,4.5))
    sh+=[hs.shape(diff(VC),smooth=False),lit.shape(diff((.2,.2,.2)),emit=VC,smooth=False)]
    for i,(d,H,c) in enumerate(((260,62,(.034,.040,.045)),(700,170,(.05,.058,.075)),(1800,360,(.085,.09,.125)))):
        sh.append(hills(d,H,1.1,.25+.3*i,0,20+i*7,c,z0=-1.6).shape(diff(VC),name='hill'))
    # a rowing boat
    sh+=pts; sh+=boat((3.55,7.4,WZ+.08),.12,4.2,(.05,.12,.15),(.30,.23,.15),rng)
    wm=water((3.35,-2.8,0),.05,.95,.6,2500,620,760,((60,.035),(9,.016),(2.4,.0045)),3,z0=WZ)
    sh.append(wm.shape(watermat((.006,.012,.018),.045,True,.004,.7)))
    sh.append(sky((.016,.045,.13),(.25,.27,.36),(1.15,.40,.13),.15,.9,.75,(.62,.30,.25),(.07,.085,.15),seed=8,cs=.10,pw=.42,cth=.46,ch=.0))
    c=camera(cam,tgt,50,w,h,.016,6.6)
    return sh,c,dict(depth=5,ev=1.5,haze=(.11,.11,.15),hazek=.0009,bloom=.06,bloomt=1.6,vig=.30,grain=.016,sat=1.18,warm=(1.06,1.0,.93))

def boat(pos,yaw,L,hull,inside,rng,mast=0.,cabin=None):
    """lofted open boat"""
    n,mn=30,13; t=np.linspace(0,1,n); sh=[]
    beam=L*.19*np.sin(np.clip(t*.93+.12,0,1)*pi)**.6*(1-t**6*.9); sheer=.42*L*.25+.10*L*.25*((t-.45)*2)**2*2.2; keel=-.12*L*.25+.25*L*.25*t**5
    m=M();ins=M()
    for q,off in ((m,0),(ins,-.03)):
        u=np.linspace(-1,1,mn); A=np.abs(u)
        X=(beam[:,None]+off)*np.sign(u)*A**.55; Z=keel[:,None]+(sheer-keel)[:,None]*A**1.6-(0 if off==0 else -.015); Y=(t[:,None]-.5)*L+0*u
        C=np.array(hull if off==0 else inside)*np.ones((n,mn,3))
        if off==0: C[:, (A>.88)]=np.array([.75,.72,.65]); C[Z<.02*L]=np.array([.22,.05,.04])
        F=grid_faces(n,mn); q.add(np.stack([X,Y,Z],-1).reshape(-1,3)@rotz(-yaw).T+np.array(pos),F if off==0 else F[:, ::-1],None,C.reshape(-1,3))
    R=rotz(-yaw); d=M()
    u=np.linspace(-1,1,mn); A=np.abs(u); TX=np.stack([beam[0]*np.sign(u)*A**.55,0*u-.5*L,keel[0]+(sheer-keel)[0]*A**1.6],1)@R.T+np.array(pos)
    d.add(np.concatenate([TX,TX[[0,-1]].mean(0,keepdims=True)]),[[i,i+1,mn] for i in range(mn-1)],None,np.array(hull)*1.1)
    for f in (.3,.52,.74): 
        i=int(f*n); box(d,np.array(pos)+R@np.array([0,(f-.5)*L,sheer[i]*.72]),(beam[i]*1.85,.2,.035),R,inside,.005)
    for sg in (-1,1):
        P=np.stack([sg*beam,(t-.5)*L,sheer+.01],1)@R.T+np.array(pos); tube(d,P,.022*L/4,8,(.32,.22,.13))
    if cabin is not None:
        box(d,np.array(pos)+R@np.array([0,L*.02,L*.18]),(L*.22,L*.26,L*.20),R,cabin,.03); box(d,np.array(pos)+R@np.array([0,L*.02,L*.29]),(L*.26,L*.31,L*.02),R,(.5,.48,.44),.02)
        for sg in (-1,1): box(d,np.array(pos)+R@np.array([sg*L*.11,L*.02,L*.21]),(.02,L*.17,L*.08),R,(.02,.03,.035))
        box(d,np.array(pos)+R@np.array([0,L*.152,L*.21]),(L*.17,.02,L*.08),R,(.02,.03,.035))
    if mast: 
        p0=np.array(pos)+R@np.array([0,L*.18,0]); tube(d,[p0,p0+np.array([.02*mast,0,mast])],.035,8,(.40,.28,.17))
        for e in (-.47,.47): tube(d,[p0+np.array([.02*mast,0,mast*.97]),np.array(pos)+R@np.array([0,e*L,sheer[0]])],.008,4,(.1,.1,.1))
    return [m.shape(rough(VC,.3,.5)),ins.shape(rough(VC,.6)),d.shape(rough(VC,.5),smooth=False)]

def glass_float(w,h):
    rng=np.random.default_rng(11); sh=[]
    # weathered planks along x
    for k in range(9):
        col,hm=woodtex(512,2048,60+k*10,(.075,.06,.05),(.34,.29,.24),.55)
        m=M(); y=-.62+k*.165
        n=220; X=np.linspace(-1.3,1.3,n); prof=np.array([(-.0795,-.04),(-.0795,-.008),(-.0765,-.002),(-.072,0),(-.05,.0008),(-.02,.0012),(.02,.0012),(.05,.0006),(.072,0),(.0765,-.002),(.0795,-.008),(.0795,-.04)])
        wv=fbm(8,n,2.4,k)[3]-.5
        V=np.stack([np.broadcast_to(X[:,None],(n,12)),y+prof[None,:,0]*(1-.03*np.abs(wv[:,None]))+.004*wv[:,None],prof[None,:,1]+.004*wv[::-1,None]+rng.normal(0,.0015)],-1)
        U=np.stack([np.broadcast_to(X[:,None]*.38+rng.random(),(n,12)),np.broadcast_to(.08+(prof[None,:,0]+.08)/.16*.84,(n,12))],-1)
        m.add(V.reshape(-1,3),grid_faces(n,12)[:, ::1],U.reshape(-1,2))
        sh.append(m.shape(rough(tex(col*1.05),tex(np.clip(.75-.3*hm,.35,.9)),.35,tex(ndi.gaussian_filter(hm,.7)),.010),name='plank'))
    nails=M()
    for k in range(9):
        for x in (-.52,.61): 
            for s in (-.04,.04): lathe(nails,[(0,.0006),(.0,.0035),(.0035,.003),(.0045,.001),(.0045,-.004)][::-1][:-1],(x+rng.normal(0,.006),-.62+k*.165+s,0),14,None,(.10,.055,.035))
    sh.append(nails.shape(rough(VC,.6)))
    R0=.17; c=np.array([.05,.0,R0+.004])
    t=fbm(256,256,2.8,5)
    def ball(r,amp,off):
        th=np.linspace(.0001,pi-.0001,160); ph=np.linspace(0,2*pi,321)
        d=np.stack([np.sin(th)[:,None]*np.cos(ph),np.sin(th)[:,None]*np.sin(ph),np.cos(th)[:,None]+0*ph],-1)
        q=(samp(t,d[...,0]*.35+off+.2*d[...,2],d[...,1]*.35+.25*d[...,2])-.5)
        m=M(); m.add((d*(r*(1+amp*q))[...,None]+c).reshape(-1,3),grid_faces(160,321)[:, ::-1]); return m
    gl={'type':'dielectric','int_ior':1.5,'ext_ior':1.0,'specular_transmittance':rgb(.74,.93,.83)}
    gi={'type':'dielectric','int_ior':1.0,'ext_ior':1.5,'specular_transmittance':rgb(.93,.98,.95)}
    sh+=[ball(R0,.025,0).shape(gl,name='ball'),ball(R0*.945,.022,.5).shape(gi,name='ballin')]
    for i in range(70):  # bubbles in the glass wall
        d=rng.normal(size=3); d/=np.linalg.norm(d); sh.append({'type':'sphere','center':list(c+d*R0*.972),'radius':float(rng.uniform(.0006,.0019)),'bsdf':{'type':'dielectric','int_ior':1.0,'ext_ior':1.5}})
    # rope net
    rope=M(); Rr=R0*1.012+.005; tilt=rotx(.42)@roty(-.30)
    def onb(th,ph): return np.stack([np.sin(th)*np.cos(ph),np.sin(th)*np.sin(ph),np.cos(th)],-1)
    N=9; th=np.linspace(.28,pi-.28,150); nz=fbm(8,400,2.,3)
    for s in (-1,1):
        for i in range(N):
            ph=2*pi*i/N+s*(th-pi/2)*1.05+.05*np.sin(th*5+i)+rng.normal(0,.03)
            tt=th+.02*np.sin(th*9+i*2)
            P=onb(tt,ph)*(Rr+.0035*(s>0)*np.cos((th-pi/2)/1.05*N*1.0)**2)[:,None]
            tube(rope,P@tilt.T+c,.0050,14,np.array([.43,.33,.20])*rng.uniform(.8,1.1),3,.024,.22)
    for i in range(N):  # knots where the two families cross
        for s2 in range(-3,4):
            thk=pi/2+s2*pi/N/1.05*.5*1.0
            if .3<thk<pi-.3:
                ph=2*pi*i/N+(thk-pi/2)*1.05
    for th0 in (.28,pi-.28):
        a=np.linspace(0,2*pi,90)
        for q in range(2): tube(rope,(onb(th0+.02*np.sin(a*3+q)+.03*q,a)*(Rr+.004))@tilt.T+c,.0062,14,(.42,.32,.19),3,.026,.22)
    # rope tail on planks
    a=np.linspace(0,1,320); 
    P=np.stack([c[0]-.12-.42*a+.07*np.sin(a*9),-.05-.16*np.sin(a*4.2)-.10*a,.0075+.09*np.exp(-a*14)+0*a],1); tube(rope,P,.0062,16,(.45,.35,.22),3,.026,.22)
    P=np.stack([c[0]+.1+.35*a-.05*np.sin(a*8),.12+.16*np.sin(a*3.0)+.05*a,.0075+.05*np.exp(-a*14)+0*a],1); tube(rope,P,.0062,16,(.45,.35,.22),3,.026,.22)
    # coil behind
    q=np.linspace(0,6*2*pi,900); rr=.075+.0022*q+.004*np.sin(q*2.3); P=np.stack([-.42+rr*np.cos(q),.34+rr*np.sin(q),.010+.011*np.floor(q/12)+.003*np.sin(q*1.7)],1); tube(rope,P,.0075,14,(.44,.34,.21),3,.03,.22)
    rt=fbm(256,256,1.0,9)
    sh.append(rope.shape(rough(VC,.9,.15,tex(rt,scale=(40,4)),.0015),name='rope'))
    # small second float, out of focus
    for (p,r,tc) in (((.47,.36,.07),.07,(.80,.66,.40)),((-.12,.52,.055),.055,(.60,.78,.80))):
        sh+=[{'type':'sphere','center':list(p),'radius':r,'bsdf':{'type':'dielectric','int_ior':1.5,'specular_transmittance':rgb(*tc)}},{'type':'sphere','center':list(p),'radius':r*.94,'flip_normals':True,'bsdf':{'type':'dielectric','int_ior':1.5,'specular_transmittance':rgb(*tc)}}]
    # window (with glazing bars) to the left/back, wall behind
    win=np.zeros((240,160,3),np.float32); ys=np.linspace(0,1,240)
    win[:]=lerp((.75,.85,1.0),(1.0,.96,.88),ys)[:,None]*13
    win[:90]*=1.25
    for q in (0,53,106,159): win[:,max(0,q-4):q+5]=.02
    for q in (0,80,160,239): win[max(0,q-4):q+5]=.02
    to=T().look_at(origin=[-1.75,.75,1.05],target=[.05,0,.15],up=[0,0,1])@T().scale([.55,.8,1])
    sh.append({'type':'rectangle','to_world':to,'bsdf':diff((.02,.02,.02)),'emitter':{'type':'area','radiance':tex(win,filt='nearest')}})
    pl,ph_=stonetex(512,512,70,(.28,.27,.25),(.40,.39,.37))
    wall=M(); wall.add([[-4,2.2,-1],[4,2.2,-1],[4,2.2,3],[-4,2.2,3]],[[0,2,1],[0,3,2]],[[0,0],[2,0],[2,1],[0,1]]); sh.append(wall.shape(diff(tex(pl*.55)),smooth=False))
    bx=M(); box(bx,(.95,1.5,.25),(.7,.4,.5),rotz(.3),(.16,.10,.06),.01); sh.append(bx.shape(rough(VC,.6),smooth=False))
    sh.append(sky((.16,.17,.19),(.10,.10,.105),ground=(.03,.028,.025),H=64))
    cam=camera((.24,-1.16,.60),(-.02,.02,.125),35,w,h,.014,1.12)
    return sh,cam,dict(depth=12,ev=2.2,bloom=.05,bloomt=2.0,vig=.34,grain=.014,sat=1.18,warm=(1.05,1.0,.94))

def lighthouse(w,h):
    rng=np.random.default_rng(2); sh=[]
    # headland
    n=560; X,Y=np.meshgrid(np.linspace(-70,60,n),np.linspace(20,150,n))
    t1,t2,t3=fbm(1024,1024,3.4,31),fbm(1024,1024,3.2,32),1-np.abs(fbm(1024,1024,3.4,33)-.5)*4
    d=np.hypot((X-14)/1.15,(Y-82)*1.0); 
    base=15*sstep(46,16,d+14*(samp(t1,X/150+.2,Y/150)-.5)*2)-4
    Z=base+7*(samp(t1,X/90,Y/90)-.5)*sstep(0,6,base+2)
    rock=sstep(13,2,Z)*1.0
    Z=Z+rock*(4.5*(samp(ndi.gaussian_filter(t3,9),X/48,Y/48)-.5)+3.4*(samp(ndi.gaussian_filter(t2,9),X/26,Y/26)-.5))+.25*(samp(t2,X/6,Y/6)-.5)
    flat=np.exp(-((X-16)**2+(Y-80)**2)/90.); zt=12.6; Z=Z*(1-flat)+zt*flat
    stp=1.5; zz=Z+.5*(X*.18+Y*.06)+.5*(samp(t1,X/20,Y/20)-.5); q=zz/stp; fr=q-np.floor(q); Z=Z+rock*.75*stp*(sstep(.25,.75,fr)-fr)*(1-flat)+rock*.55*(samp(ndi.gaussian_filter(t2,5),X/9,Y/9)-.5)
    gx,gy=np.gradient(Z,X[0,1]-X[0,0]); sl=np.hypot(gx,gy)
    gn=samp(t2,X/23,Y/23); g2=samp(fbm(1024,1024,1.5,40),X/30,Y/30)
    grass=lerp((.055,.085,.020),(.20,.19,.06),np.clip(gn*1.2-.1+.5*(g2-.5),0,1)); rk=lerp((.055,.05,.045),(.25,.225,.19),np.clip(.2+.5*g2+.5*(samp(t3,X/13,Y/13)-.3),0,1))
    C=lerp(rk,grass,sstep(1.25,.55,sl+.9*(g2-.5))*sstep(3.,5.5,Z+2.5*(gn-.5))); C=lerp((.02,.02,.018),C,sstep(.2,1.7,Z+.6*g2))
    path=np.exp(-((X-(16+.25*(Y-80)+3*np.sin(Y/7)))/.9)**2)*(Y<79); C=lerp(C,(.38,.33,.25),np.clip(path,0,1)*.8*sstep(4,6,Z))
    m=M(); m.add(np.stack([X,Y,Z],-1).reshape(-1,3),grid_faces(n,n),np.stack([X,Y],-1).reshape(-1,2)*.12,C.reshape(-1,3))
    sh.append(m.shape(rough(VC,.85,.2,tex(fbm(1024,1024,1.6,44)),.35),name='land'))
    # tower
    c=np.array([16.,80.,zt-.3]); H=19.
    tw=M(); z=np.linspace(0,H,160); r=3.0-1.05*(z/H)**.75; r[:6]+=.25
    st=fbm(512,512,2.2,50); dr_=fbm(512,512,1.6,51,ax=.25,ay=3.)
    def cf(a,s):
        zz=s; band=((zz>.36)&(zz<.62)); b=lerp((.78,.76,.70),(.50,.075,.055),band.astype(float))
        dirt=sstep(.52,.80,samp(np.clip(dr_,0,1),a/(2*pi)*2,s*.5))*.5+.35*sstep(.08,.0,s)+.30*(samp(st,a/(2*pi)*2,s*2)-.5); return b*(1-np.clip(dirt,0,.6)[...,None]*np.array([.55,.65,.85]))
    lathe(tw,np.stack([r,z],1),c,96,None,colf=cf)
    sh.append(tw.shape(rough(VC,.55,.35,tex(st,scale=(3,6)),.06)))
    dk=M(); wt=M()
    lathe(wt,[(1.95,H-.05),(2.15,H+.1),(2.75,H+.35),(2.85,H+.4),(2.85,H+.6),(1.6,H+.62)],c,64,None,(.70,.68,.63))
    for rz in (.98,1.35,1.75): a=np.linspace(0,2*pi,80); tube(dk,np.stack([2.75*np.cos(a),2.75*np.sin(a),0*a+H+rz],1)+c,.028,6,(.05,.05,.05))
    for a in np.linspace(0,2*pi,25)[:-1]: p=c+np.array([2.75*np.cos(a),2.75*np.sin(a),H+.6]); tube(dk,[p,p+np.array([0,0,1.17])],.028,6,(.05,.05,.05))
    lathe(wt,[(1.45,H+.6),(1.45,H+1.5),(1.52,H+1.55)],c,48,None,(.72,.70,.65))
    for a in np.linspace(0,2*pi,13)[:-1]: p=c+np.array([1.42*np.cos(a),1.42*np.sin(a),H+1.5]); tube(dk,[p,p+np.array([0,0,1.9])],.045,6,(.42,.06,.045))
    lathe(dk,[(1.66,H+3.35),(1.70,H+3.45),(1.35,H+3.95),(.75,H+4.45),(.22,H+4.72),(.24,H+4.95),(.1,H+5.15),(.03,H+5.2),(.025,H+6.3)],c,48,None,(.36,.05,.04))
    gl=M(); lathe(gl,[(1.40,H+1.5),(1.40,H+3.4)],c,12); sh.append(gl.shape({'type':'thindielectric'},smooth=False))
    lathe(wt,[(.25,H+1.2),(.55,H+1.8),(.68,H+2.4),(.55,H+3.0),(.25,H+3.3)],c,24,None,(.75,.72,.55))
    for (a,zz) in ((-1.9,3.2),(-1.9,8.6),(-1.9,14.2),(-.6,11),(-2.9,6)):
        rr=3.0-1.05*(zz/H)**.75; R=rotz(a+pi/2); p=c+np.array([rr*np.cos(a),rr*np.sin(a),zz]); box(wt,p,(.95,.25,1.4),R,(.62,.60,.55),.04); box(dk,p+R@np.array([0,-.11,0]),(.62,.08,1.05),R,(.02,.025,.03))
    # keeper's house and wall
    hc=np.array([5.5,82.,zt-.9]); Rh=rotz(.28)
    box(wt,hc+np.array([0,0,1.7]),(9,5.4,3.6),Rh,(.70,.67,.60),.03)
    V=np.array([[-4.8,-3.0,3.4],[4.8,-3.0,3.4],[4.8,3.0,3.4],[-4.8,3.0,3.4],[-4.8,0,5.6],[4.8,0,5.6]]); dk.add(V@Rh.T+hc,[[0,1,5],[0,5,4],[3,4,5],[3,5,2]],None,(.095,.10,.115)); wt.add(V@Rh.T*np.array([.94,.94,1])+hc*1.0-np.array([0,0,0]),[[0,4,3],[1,2,5]],None,(.66,.63,.57))
    for x in (-3.9,3.7): box(wt,hc+Rh@np.array([x,0,5.7]),(.8,.8,1.5),Rh,(.45,.30,.24),.04)
    for x in (-3,-1.2,1.5,3.2): box(dk,hc+Rh@np.array([x,-2.72,1.9]),(.85,.06,1.15),Rh,(.025,.03,.035)); box(wt,hc+Rh@np.array([x,-2.74,1.28]),(1.1,.16,.10),Rh,(.7,.68,.62)); box(wt,hc+Rh@np.array([x,-2.74,1.9]),(.05,.1,1.15),Rh,(.7,.68,.62))
    box(dk,hc+Rh@np.array([.2,-2.72,1.1]),(.95,.08,2.0),Rh,(.06,.13,.17))
    sm,hm=stonetex(512,512,80)
    for i in range(60):
        x=-9+i*.62; 
        for k in range(3): 
            zg=float(ndi.map_coordinates(Z,[[(75.5+.4*np.sin(i*.2)-20)/130*(n-1)],[(x+70)/130*(n-1)]],order=1)[0]); box(wt,(x+rng.normal(0,.05),75.5+.4*np.sin(i*.2),zg+.15+.34*k),(.6+rng.normal(0,.05),.55,.33),rotz(rng.normal(0,.08)),np.array([.25,.235,.21])*rng.uniform(.7,1.2),.05)
    sh+=[wt.shape(rough(VC,.6,.3),smooth=False),dk.shape(rough(VC,.4),smooth=False)]
    cam0=(-6.,-42.,9.)
    wm=water(cam0,.02,.62,14,30000,900,900,((420,.55),(95,.20),(19,.07),(5,.02)),5,wind=.9)
    sh.append(wm.shape(watermat((.012,.040,.050),.10,True,.12,.25)))
    # foam around the rocks
    f=M(); fx,fy=np.meshgrid(np.linspace(-70,60,420),np.linspace(20,120,420)); fz=samp_grid(Z,(fx+70)/130,(fy-20)/130)
    fo=np.exp(-((fz+1.0)/1.15)**2)*sstep(.42,.62,samp(t2,fx/21,fy/21)+.25*(samp(fbm(512,512,1.,3),fx/7,fy/7)-.5)); 
    idx=fo>.35; F=grid_faces(420,420); ok=idx.ravel()[F].all(1); 
    if ok.any(): f.add(np.stack([fx,fy,0*fx+.22+.25*fo],-1).reshape(-1,3),F[ok],None,(.62,.65,.66)); sh.append(f.shape(diff(VC)))
    sd=np.array([-.75,-.42,.42])
    sh.append(sky((.07,.17,.40),(.50,.60,.72),(.35,.24,.12),-1.9,1.2,.92,(1.35,1.22,1.05),(.40,.46,.56),sun=sd,sunI=42000.,sunr=.7,seed=15,cs=.14,pw=.5,cth=.50,ground=(.10,.14,.16),suncol=(1,.74,.45)))
    cam=camera(cam0,(3.5,80,19.6),32,w,h,.02,124,roll=3.6)
    return sh,cam,dict(depth=4,ev=-.55,haze=(.62,.70,.80),hazek=.0003,bloom=.03,bloomt=2.5,vig=.26,grain=.014,sat=1.2,warm=(1.04,1,.94))

def samp_grid(Z,u,v):
    return ndi.map_coordinates(Z,[v*(Z.shape[0]-1),u*(Z.shape[1]-1)],order=1,mode='nearest')

def draw_chart(W=3000,H=2100):
    rng=np.random.default_rng(17); g=fbm(H//2,W//2,3.1,101); yy,xx=np.mgrid[0:H//2,0:W//2]/np.array([H//2,W//2]).reshape(2,1,1)
    f=g+.45*(xx-.45)-.30*(yy-.35)+.25*np.exp(-((xx-.18)**2+(yy-.75)**2)*30)
    f=np.array(Image.fromarray((f*1000).astype(np.float32)).resize((W,H),Image.BICUBIC))/1000; lv=.62
    p1,p2=fbm(H,W,2.6,102),fbm(H,W,1.2,103); pap=lerp((.74,.63,.44),(.87,.79,.62),np.clip(p1*.8+.3*p2-.05,0,1))
    st=sstep(.70,.76,p1)*.10; pap=pap*(1-st[...,None])
    land=f>lv; gr=ndi.gaussian_filter(f,2)
    pap=lerp(pap,pap*np.array([.97,.90,.70]),land.astype(float)*.9)
    sea=np.clip((lv-f)/.10,0,1); pap=lerp(pap*np.array([.72,.86,.86]),pap,np.where(land,1,sstep(0,.55,sea)))
    im=Image.fromarray((np.clip(pap,0,1)*255).astype(np.uint8)); ink=Image.new('L',(W,H),0); D=ImageDraw.Draw(ink)
    F=lambda s,i=False,b=False: ImageFont.truetype('/usr/share/fonts/truetype/liberation/LiberationSerif-%s.ttf'%('BoldItalic' if i and b else 'Italic' if i else 'Bold' if b else 'Regular'),s)
    # rhumb lines
    cx,cy=int(W*.27),int(H*.60)
    for k in range(32):
        a=k*pi/16; D.line([cx+230*np.cos(a),cy+230*np.sin(a),cx+4000*np.cos(a),cy+4000*np.sin(a)],fill=70 if k%2 else 105,width=2)
    a=np.array(ink,np.float32); a[land]*=.55
    # coast, shore hatching, contours
    gm=np.hypot(*np.gradient(gr))+1e-6
    for l,wd,am,dash in ((lv,3.2,255,0),(lv-.014,1.3,140,0),(lv-.03,1.2,105,0),(lv-.05,1.1,85,0),(lv-.085,1.4,120,1),(lv-.14,1.4,110,1),(lv+.05,1.4,130,0),(lv+.10,1.4,120,0),(lv+.16,1.3,110,0)):
        e=np.clip(wd-np.abs(gr-l)/gm,0,1)*am
        if dash: e*=(np.sin(np.arctan2(*np.gradient(gr))*0+np.add.outer(np.arange(H),np.arange(W))*.25)>-.2)
        a=np.maximum(a,e)
    ink=Image.fromarray(a.astype(np.uint8)); D=ImageDraw.Draw(ink)
    fs=F(25)
    for _ in range(900):
        x,y=rng.uniform(170,W-170),rng.uniform(170,H-170); q=lv-f[int(y),int(x)]
        if q>.02 and np.hypot(x-cx,y-cy)>330: D.text((x,y),str(int(1+q*95+rng.integers(0,3))),font=fs,fill=165,anchor='mm')
    # compass rose
    for r in (330-95,225,175,168,60): D.ellipse([cx-r,cy-r,cx+r,cy+r],outline=200,width=3)
    for k in range(72): a0=k*pi/36; r2=235; r1=228 if k%2 else 222; D.line([cx+r1*np.cos(a0)*.955,cy+r1*np.sin(a0)*.955,cx+r2*np.cos(a0),cy+r2*np.sin(a0)],fill=200,width=2)
    for lay,(R1,n,o) in enumerate(((150,8,pi/8),(190,4,pi/4),(222,4,0))):
        for k in range(n):
            a0=o+k*2*pi/n-pi/2; P=lambda r,t:(cx+r*np.cos(t),cy+r*np.sin(t)); q=R1*.17
            D.polygon([P(R1,a0),P(q,a0+.6),(cx,cy)],fill=225); D.polygon([P(R1,a0),P(q,a0-.6),(cx,cy)],fill=12,outline=220)
    D.text((cx,cy-262),'N',font=F(46,b=True),fill=230,anchor='mm')
    # graduated border
    for o,wd in ((60,7),(78,2),(112,2),(122,4)): D.rectangle([o,o,W-o,H-o],outline=235,width=wd)
    for k in range(60):
        for (o1,o2,s) in ((78,112,W),(78,112,H)):
            x0=112+(s-224)*k/60; x1=112+(s-224)*(k+1)/60
            if k%2==0:
                if s==W: D.rectangle([x0,90,x1,100],fill=210); D.rectangle([x0,H-100,x1,H-90],fill=210)
                else: D.rectangle([90,x0,100,x1],fill=210); D.rectangle([W-100,x0,W-90,x1],fill=210)
    # cartouche
    x0,y0=int(W*.60),int(H*.70)
    box_=[x0,y0,x0+900,y0+430]
    D.rectangle(box_,fill=0); D.rectangle(box_,outline=220,width=5); D.rectangle([x0+14,y0+14,x0+886,y0+416],outline=200,width=2)
    for s,y,t,i in ((40,70,'A CHART of',1),(86,150,'OSTREL HAVEN',0),(44,225,'and the Sound of Merrow',1),(32,290,'surveyed with soundings in fathoms',1)): D.text((x0+450,y0+y),t,font=F(s,bool(i),not i),fill=230,anchor='mm')
    D.line([x0+200,y0+350,x0+700,y0+350],fill=220,width=4)
    for k in range(6): D.line([x0+200+k*100,y0+335,x0+200+k*100,y0+365],fill=220,width=3)
    for k in range(0,5,2): D.rectangle([x0+200+k*100,y0+350,x0+300+k*100,y0+360],fill=220)
    names=['Lantern Pt.','Gannet Hd.','Old Quay','The Sisters','Cold Ledge','Wick Bay','St. Orla','Kelp Rk.','Fennel Cove','Tarn Hill','Mickle Sd.','Brae Ness']; pts=np.argwhere(np.abs(gr[200:-200:7,200:-300:7]-lv)<.004)*7+200; rng.shuffle(pts); used=[]
    for y,x in pts:
        if len(names)==0: break
        if all(np.hypot(x-u,y-v)>260 for u,v in used) and not (x0-250<x<x0+900 and y0-80<y<y0+480) and np.hypot(x-cx,y-cy)>380: used.append((x,y)); D.text((x+18,y),names.pop(),font=F(38,True),fill=225,anchor='lm')
    D.text((W*.30,H*.27),'M E R R O W   S O U N D',font=F(64,True),fill=200,anchor='mm')
    k=np.array(ink.filter(ImageFilter.GaussianBlur(.8)),np.float32)/255*(.72+.4*(p2-.3)); out=lerp(np.array(im,np.float32)/255,(.10,.075,.06),np.clip(k,0,.92))
    for fxp in (.25,.5,.75): e=np.exp(-((xx-fxp)*W/2/3.)**2); e=np.array(Image.fromarray(e.astype(np.float32)).resize((W,H))); out*= (1-.13*e)[...,None]
    e=np.array(Image.fromarray(np.exp(-((yy-.5)*H/2/3.)**2).astype(np.float32)).resize((W,H))); out*=(1-.13*e)[...,None]
    edge=np.minimum(np.minimum(np.arange(W)[None],np.arange(W)[::-1][None]),np.minimum(np.arange(H)[:,None],np.arange(H)[::-1][:,None])); out*=(1-.28*np.exp(-edge/70.))[...,None]
    for (sx,sy,r) in ((.82,.22,150),(.12,.9,210)):
        dd=np.hypot(np.arange(W)[None]-sx*W,np.arange(H)[:,None]-sy*H)+60*(p1-.5); out*=(1-(.10*(dd<r)+.14*np.exp(-((dd-r)/9)**2))[...,None]*np.array([.6,.8,1.]))
    return np.clip(out,0,1).astype(np.float32)

def framed_chart(w,h):
    rng=np.random.default_rng(7); sh=[]; ch=draw_chart()
    lin=np.where(ch<.04045,ch/12.92,((ch+.055)/1.055)**2.4)
    CW,CH=.80,.56; fw=.062; mat=.052
    # wall in plane y=0, viewed from -y; plaster above, panelled dado below
    p1,p2=fbm(1024,1024,2.2,201),fbm(1024,1024,1.2,202); pl=lerp((.33,.38,.37),(.40,.45,.43),np.clip(p1*.9+.2*p2,0,1)); bump=ndi.gaussian_filter(p2,1.6)*.6+.4*p1
    wl=M(); wl.add([[-4,0,-3],[4,0,-3],[4,0,3],[-4,0,3]],[[0,1,2],[0,2,3]],[[0,0],[4,0],[4,3],[0,3]]); sh.append(wl.shape(rough(tex(pl),.75,.25,tex(ndi.gaussian_filter(bump,1.5)),.010),smooth=False))
    th=np.radians(-1.1); R=roty(th)
    def quad(m,y,hw,hh,uv=True): m.add(np.array([[-hw,y,-hh],[hw,y,-hh],[hw,y,hh],[-hw,y,hh]])@R.T,[[0,1,2],[0,2,3]],[[0,0],[1,0],[1,1],[0,1]])
    n=40; X,Zg=np.meshgrid(np.linspace(-CW/2,CW/2,n),np.linspace(-CH/2,CH/2,n)); buck=fbm(64,64,3.2,9)[:n,:n]-.5
    m=M(); m.add(np.stack([X,-.016-.006*buck,Zg],-1).reshape(-1,3)@R.T,grid_faces(n,n),np.stack([(X/CW+.5),(Zg/CH+.5)],-1).reshape(-1,2)); sh.append(m.shape(rough(tex(lin[::-1]),.8,.2,tex(fbm(512,512,1.2,5),scale=(3,3)),.0015)))
    mt=M()
    iw,ih,ow,oh=CW/2-.006,CH/2-.006,CW/2+mat,CH/2+mat; V=np.array([[-iw,-ih],[iw,-ih],[iw,ih],[-iw,ih],[-ow,-oh],[ow,-oh],[ow,oh],[-ow,oh]])
    V3=np.stack([V[:,0],np.r_[np.full(8,-.0225)],V[:,1]],1); F=[]; 
    for k in range(4): a,b=k,(k+1)%4; F+=[[4+a,4+b,b],[4+a,b,a]]
    mt.add(V3@R.T,F,V*2)
    bv=V3[:4].copy(); bv2=bv.copy(); bv2[:,0]*=.9935; bv2[:,2]*=.991; bv2[:,1]=-.0165; mt.add(np.concatenate([bv,bv2])@R.T,sum([[[k,(k+1)%4,4+(k+1)%4],[k,4+(k+1)%4,4+k]] for k in range(4)],[]))
    sh.append(mt.shape(rough((.72,.68,.58),.9,.1,tex(fbm(512,512,.8,6)),.001),smooth=False))
    # mitred moulding
    prof=np.array([(0,-.022),(0,-.034),(.006,-.038),(.010,-.037),(.014,-.041),(.022,-.046),(.032,-.048),(.042,-.046),(.048,-.040),(.051,-.041),(.058,-.038),(.062,-.030),(.062,0)])
    wc,wh=woodtex(512,2048,300,(.035,.018,.010),(.17,.085,.04))
    fr=M(); s=np.linspace(0,1,40)
    for k in range(4):
        cs=[(-1,-1),(1,-1),(1,1),(-1,1)]; a,b=cs[k],cs[(k+1)%4]; U=[];Vv=[]
        for (o,y) in prof:
            pa=np.array([a[0]*(ow+o-.004),y,a[1]*(oh+o-.004)]); pb=np.array([b[0]*(ow+o-.004),y,b[1]*(oh+o-.004)]); Vv.append(pa+(pb-pa)*s[:,None])
        L=np.linalg.norm(pb-pa); Vv=np.stack(Vv); kk=np.concatenate([[0],np.cumsum(np.hypot(*np.diff(prof,axis=0).T))])
        U=np.stack(np.broadcast_arrays(s[None]*L*.7+k*.23,kk[:,None]*3.+k*.3),-1); fr.add(Vv.reshape(-1,3)@R.T,grid_faces(len(prof),40),U.reshape(-1,2))
    sh.append(fr.shape(rough(tex(wc),tex(np.clip(.30-.12*wh,.12,.5)),.6,tex(ndi.gaussian_filter(wh,(2,4))),.0012)))
    # gilt slip
    gs=M(); 
    for k in range(4):
        cs=[(-1,-1),(1,-1),(1,1),(-1,1)]; a,b=cs[k],cs[(k+1)%4]; tube(gs,np.stack([np.linspace(a[0],b[0],8)*(ow-.001),np.full(8,-.029),np.linspace(a[1],b[1],8)*(oh-.001)],1)@R.T,.0042,10)
    sh.append(gs.shape({'type':'roughconductor','material':'Au','alpha':.28,'specular_reflectance':rgb(.75,.7,.6)}))
    gq=M(); quad(gq,-.027,ow,oh); g_=gq.shape({'type':'thindielectric','int_ior':1.5,'specular_reflectance':rgb(.16,.16,.16)},smooth=False); g_['_glass']=True; sh.append(g_)
    # window light from the left, room behind the camera
    win=np.full((160,120,3),1.,np.float32)*np.array([.86,.94,1.0])*15; 
    for q in (0,40,80,119): win[:,max(0,q-3):q+4]=.05
    for q in (0,53,106,159): win[max(0,q-3):q+4]=.05
    to=T().look_at(origin=[-2.6,-1.7,.9],target=[0,0,-.05],up=[0,0,1])@T().scale([.6,.85,1]); sh.append({'type':'rectangle','to_world':to,'bsdf':diff((.1,.1,.1)),'emitter':{'type':'area','radiance':tex(win,filt='nearest')}})
    # nail + shelf with objects below
    sf=M(); sc,shm=woodtex(256,1024,400,(.06,.035,.02),(.24,.15,.08)); box(sf,(.05,-.10,-.62),(2.2,.2,.035),None,(1,1,1),.004,.5); sh.append(sf.shape(rough(tex(sc),.45,.4,tex(shm),.004),smooth=False))
    ob=M(); lathe(ob,[(0,0),(.055,0),(.06,.01),(.058,.10),(.05,.135),(.03,.15),(.026,.18),(.03,.185)],(-.62,-.10,-.602),40,None,(.10,.16,.20)); 
    for i,(bw,bc) in enumerate(((.035,(.25,.07,.05)),(.028,(.08,.13,.11)),(.04,(.32,.25,.14)),(.03,(.10,.10,.16)))): box(ob,(.45+i*.042,-.10,-.602+.085+.006*i),(bw,.13,.17+.012*i),roty(.02*i),bc,.004)
    sh.append(ob.shape(rough(VC,.4),smooth=True))
    sh.append(sky((.30,.27,.23),(.22,.20,.18),ground=(.10,.08,.06),H=64))
    cam=camera((1.10,-1.56,-.30),(.05,0,-.02),48,w,h,.006,1.86,roll=-.8)
    return sh,cam,dict(depth=6,ev=.75,bloom=.02,bloomt=2.,vig=.32,grain=.014,sat=1.02,warm=(1.02,1.,.97))


def harbour_wall(w,h):
    rng=np.random.default_rng(23); sh=[]
    cols=[(.62,.17,.11),(.74,.55,.20),(.20,.36,.50),(.78,.74,.64),(.34,.47,.36),(.72,.42,.34),(.50,.62,.66),(.80,.66,.44),(.42,.20,.22),(.66,.68,.60)]
    m=M(); rf=M(); gl=M(); wt=M(); lw=M(); pts=[]
    x=-62.; i=0; fb=fbm(256,256,2.,3)
    while x<62:
        W=rng.uniform(4.4,7.4); H=rng.uniform(5.2,9.2); D=7.; y=60+rng.normal(0,.35); c=np.array(cols[int(rng.integers(len(cols)))] if i%3 else cols[i%10])*rng.uniform(.85,1.05); z0=2.4
        # facade as a fine grid so that vertex colours can carry stains
        n,k=40,44; X,Z=np.meshgrid(np.linspace(0,W,n),np.linspace(0,H,k)); st=samp(fb,X/9+i*.37,Z/14+.1*i); dr=samp(fb,X/2.2+i*.7,Z/40)
        C=c*(1-.28*sstep(.5,.75,st)-.30*sstep(1.4,0,Z)-.18*sstep(.55,.75,dr)*sstep(H*.4,H,Z))[...,None]
        m.add(np.stack([X+x,0*X+y,Z+z0],-1).reshape(-1,3),grid_faces(k,n),np.stack([X,Z],-1).reshape(-1,2)*.2,C.reshape(-1,3))
        box(m,(x+W/2,y+D/2+.03,z0+H/2),(W,D,H),None,c*.85)
        gable=rng.random()<.4; rc=np.array([(.26,.12,.08),(.13,.135,.15),(.30,.16,.10)][rng.integers(3)])*rng.uniform(.8,1.1); rh=rng.uniform(1.6,2.6)
        if gable:
            V=np.array([[x-.2,y-.3,z0+H-.1],[x+W+.2,y-.3,z0+H-.1],[x+W/2,y-.3,z0+H+rh+.4],[x-.2,y+D,z0+H-.1],[x+W+.2,y+D,z0+H-.1],[x+W/2,y+D,z0+H+rh+.4]]); rf.add(V,[[0,2,5],[0,5,3],[1,4,5],[1,5,2]],None,rc); m.add(V[:3]+np.array([[.2,.3,.1],[-.2,.3,.1],[0,.3,-.1]]),[[0,1,2]],None,c*.95)
        else:
            V=np.array([[x-.05,y-.45,z0+H-.1],[x+W+.05,y-.45,z0+H-.1],[x+W+.05,y+D/2,z0+H+rh],[x-.05,y+D/2,z0+H+rh],[x-.05,y+D,z0+H],[x+W+.05,y+D,z0+H]]); rf.add(V,[[0,1,2],[0,2,3],[3,2,5],[3,5,4]],V[:,[0,2]]*.5,rc)
        for q in range(rng.integers(1,3)): cx=x+rng.uniform(.5,W-.5); box(wt,(cx,y+D/2-.2,z0+H+rh+.1),(.8,.6,1.6),None,(.38,.24,.18),.03); lathe(wt,[(.13,0),(.10,.5)],(cx,y+D/2-.2,z0+H+rh+.9),10,None,(.45,.25,.17))
        fl=int(H//2.6); nw=max(2,int(W//1.9))
        fr=(.78,.76,.70) if rng.random()<.7 else (.10,.16,.2)
        for f in range(fl):
            for q in range(nw):
                wx=x+(q+.5)*W/nw+rng.normal(0,.03); wz=z0+1.55+f*2.55
                if f==0 and q==int(nw*rng.random()): 
                    dc=cols[int(rng.integers(10))]; box(wt,(wx,y-.02,z0+1.05),(1.05,.12,2.15),None,fr,.02); box(wt,(wx,y-.06,z0+1.0),(.85,.1,1.95),None,np.array(dc)*.6,.02); continue
                ww,wh=(.95,1.35); box(wt,(wx,y-.02,wz),(ww+.22,.12,wh+.22),None,fr,.02); lt=rng.random()<.48; box(lw if lt else gl,(wx,y-.05,wz),(ww,.08,wh),None,np.array([(1.,.46,.11),(1.,.54,.19),(1.,.38,.08)][rng.integers(3)])*rng.uniform(.18,.95) if lt else np.array([.02,.028,.035])*rng.uniform(.6,2.5))
                if rng.random()<.5: box(gl,(wx-ww*.3,y-.093,wz),(ww*.3,.004,wh*.95),None,(.35,.34,.32))
                box(wt,(wx,y-.10,wz),(.05,.04,wh),None,fr); box(wt,(wx,y-.10,wz),(ww,.04,.05),None,fr); box(wt,(wx,y-.10,wz-wh/2-.12),(ww+.35,.3,.1),None,(.6,.58,.53),.02)
        x+=W+(.02 if rng.random()<.8 else 1.2); i+=1
    # sea wall of stone blocks
    sc,hm=stonetex(1024,1024,66,(.17,.155,.135),(.42,.39,.34)); wl=M()
    for r in range(9):
        xx=-66+rng.random()
        while xx<66:
            L=rng.uniform(.8,2.0); k=np.array([1.,1.,1.])*rng.uniform(.8,1.15); 
            if r<3: k=k*np.array([.34,.38,.30])*(1+.35*r)
            box(wl,(xx+L/2,50+rng.normal(0,.02)+.05*(8-r)*-.6,-1.6+.47*r),(L-.025,.7,.445),None,k,.03,.2,tuple(rng.random(2)*5)); xx+=L
    box(wl,(0,55,2.2),(134,10,.3),None,(1,1,1),0,.2); box(wl,(0,49.85,2.62),(134,.75,.3),None,(1.05,1.03,1.),.05,.2)
    # vertex colours darken the low courses
    sh.append(wl.shape(rough(VC if False else tex(sc),.9,.2),smooth=False))
    tide=M(); n=900; X=np.linspace(-66,66,n); zt=.15+.28*(fbm(8,n,2.,4)[2]-.5)*2
    tide.add(np.concatenate([np.stack([X,0*X+49.18,0*X-2],1),np.stack([X,0*X+49.34,zt],1)]),grid_faces(2,n),None,np.concatenate([np.tile([.035,.04,.025],(n,1)),np.tile([.09,.10,.05],(n,1))*(.6+.8*fbm(8,n,1.,5)[3])[:,None]])); sh.append(tide.shape(diff(VC)))
    for xx in np.arange(-58,60,7.3): lathe(wt,[(.16,0),(.14,.4),(.2,.5),(.2,.6),(0,.66)],(xx,50.6,2.35),14,None,(.05,.05,.05))
    for xx in (-36,-4,31): 
        for s in (-.28,.28): tube(gl,[[xx+s,49.1,-1.5],[xx+s,49.2,2.9]],.035,6,(.12,.07,.05))
        for z in np.arange(-1.2,2.8,.32): tube(gl,[[xx-.28,49.15,z],[xx+.28,49.15,z]],.025,6,(.12,.07,.05))
    for xx in np.arange(-52,54,15.): tube(gl,[[xx,53,2.3],[xx,53,6.6]],.06,8,(.06,.07,.07)); lathe(lw,[(.1,0),(.25,.25),(.28,.3),(.05,.55)],(xx,53,6.5),12,None,(5.,2.7,1.0)); pts.append({'type':'point','position':[float(xx),52.6,6.3],'intensity':rgb(20.,11.,4.4)})
    # bunting of lanterns along the lamps
    pa=M()
    for xx in np.arange(-52,38,15.):
        C=catenary((xx,53,6.4),(xx+15,53,6.4),1.0,40); tube(gl,C,.015,4,(.08,.08,.08))
        for t in range(3,38,3): lathe(pa,[(.0,-.28),(.14,-.25),(.22,0),(.14,.25),(.0,.28)],C[t]-np.array([0,0,.35]),12,None,np.array([(1.,.46,.14),(1.,.72,.40),(1.,.24,.09)][t%9//3])*1.5); pts+=[{'type':'point','position':[float(v) for v in C[20]-np.array([0,.6,.6])],'intensity':rgb(7.,3.6,1.5)}]
    sh+=[m.shape(rough(VC,.85),smooth=False),rf.shape(rough(VC,.8,.3,tex(np.tile(np.sin(np.linspace(0,40*pi,512))[:,None]*.5+fbm(512,512,1.,2)*.6,1)),.05),smooth=False),gl.shape(rough(VC,.25,.6),smooth=False),wt.shape(rough(VC,.5,.3),smooth=False),pa.shape(diff((.5,.4,.3)),emit=VC),lw.shape(diff((.1,.1,.1)),emit=VC,smooth=False)]+pts
    hc=[((.06,.14,.20),(.34,.25,.16)),((.46,.07,.05),(.4,.33,.22)),((.55,.53,.47),(.3,.2,.12)),((.08,.20,.13),(.36,.29,.2)),((.60,.42,.10),(.34,.25,.16))]
    for j,xx in enumerate((-45,-33,-24,-9,3.5,14,27,38,49)): sh+=boat((xx+rng.normal(0,1),45.5+rng.normal(0,1.6),-1.0),pi/2+rng.normal(0,.16)+(pi if j%2 else 0),rng.uniform(5.5,9.5),*hc[j%5],rng,mast=rng.uniform(5,8.5) if j%3!=2 else 0,cabin=(.68,.66,.60) if j%2==0 else None)
    for i,(d,H,c) in enumerate(((260,52,(.045,.055,.045)),(700,120,(.06,.07,.08)))): sh.append(hills(d,H,1.2,.1*i,0,60+i*5,c).shape(diff(VC)))
    wm=water((0,-22,0),0,.85,12,9000,560,900,((70,.05),(11,.022),(3,.006)),9,z0=-1.35); sh.append(wm.shape(watermat((.015,.035,.035),.07,True,.02,.4)))
    sh.append(sky((.035,.085,.21),(.17,.22,.33),(.52,.24,.12),.25,1.1,.80,(.30,.22,.24),(.065,.09,.15),seed=36,cs=.09,pw=.45,cth=.50,ground=(.03,.04,.05)))
    return sh,camera((3,-22,4.6),(2.,50,6.4),56,w,h),dict(depth=4,ev=1.35,haze=(.14,.18,.27),hazek=.0010,bloom=.06,bloomt=1.8,vig=.24,grain=.016,sat=1.06)

def lantern_pole(w,h):
    rng=np.random.default_rng(31); sh=[]; pa=M(); dk=M(); rp=M(); hs=M(); lit=M(); pts=[]
    P=np.stack([.02*np.sin(np.linspace(0,3,30)),0*np.linspace(0,1,30),np.linspace(0,5.6,30)],1); tube(dk,P,np.linspace(.075,.045,30),20,(.16,.11,.075))
    lathe(dk,[(.05,5.55),(.09,5.62),(.10,5.70),(.05,5.80),(.0,5.86)],(0,0,0),24,None,(.35,.24,.08))
    k=0
    for j,z in enumerate((5.25,4.55,3.85,3.15)):
        wd=(.42,.62,.82,1.0)[j]; a0=.25+.10*j
        tube(dk,[[-wd*np.cos(a0),-wd*np.sin(a0)*.5,z+.02],[wd*np.cos(a0),wd*np.sin(a0)*.5,z]],.022,10,(.17,.11,.07))
        n=2+ (j>0)*2
        for t in np.linspace(-.93,.93,n):
            if abs(t)<.2: continue
            p=np.array([wd*t*np.cos(a0),wd*t*np.sin(a0)*.5,z]); H=rng.uniform(.44,.50); R=rng.uniform(.165,.19); cn=['amber','red','amber','cream'][k%4]; c=p-np.array([0,0,H/2+.09]); 
            lantern(pa,dk,c,R,H,['round','tall'][j%2],np.array(rgbs[cn])*np.array([1,.82,.62]),{'amber':.85,'red':.75,'cream':.75}[cn],seed=50+k,tilt=rng.normal(0,.03),seg=44,ribs=11); k+=1
            pts.append({'type':'point','position':[float(v) for v in c-np.array([0,0,H/2+.08])],'intensity':rgb(.30,.16,.07)})
    for (b,sg,n) in (((-4.2,2.5,4.6),.5,8),((4.0,3.2,5.0),.55,8),((-3.0,-3.5,5.2),.4,5)):
        C=catenary((0,0,5.45),b,sg,40); tube(rp,C,.008,6,(.06,.05,.045))
        for t in (np.arange(n)+.7)/n:
            p=C[min(39,int(t*39))]; H=.26; lantern(pa,dk,p-np.array([0,0,H/2+.07]),.10,H,'round',np.array(rgbs[['amber','cream','red'][k%3]])*np.array([1,.82,.62]),.8,seed=90+k,tilt=rng.normal(0,.06),seg=26,ribs=8); k+=1
    for i in range(150):  # the far quay, out of focus
        y=rng.uniform(45,95); x=rng.uniform(-.62,.62)*y; c=(x,y,abs(rng.normal(0,1.5))+.6); r=rng.uniform(.07,.17)
        lathe(lit,[(0,-r),(r*.87,-r*.5),(r*.87,r*.5),(0,r)],c,10,None,np.array([(1.,.55,.20),(1.,.72,.42),(1.,.36,.14)][rng.integers(3)])*rng.uniform(3,11))
    for i in range(34): x=-52+i*3.1+rng.normal(0,.5); box(hs,(x,72+rng.uniform(-4,8),1.6),(rng.uniform(2.2,4.),4,rng.uniform(3.,6.5)),None,(.035,.038,.05))
    for i,(d,H,c) in enumerate(((120,17,(.035,.04,.05)),(420,75,(.06,.065,.09)))): sh.append(hills(d,H,1.2,.2*i,0,120+i*5,c).shape(diff(VC)))
    g=M(); g.add([[-300,-20,0],[300,-20,0],[300,300,0],[-300,300,0]],[[0,1,2],[0,2,3]]); sh.append(g.shape(diff((.06,.055,.05))))
    wt=fbm(512,512,1.6,3)
    sh+=pts+[pa.shape(diff((.5,.4,.3)),emit=VC),dk.shape(rough(VC,.5,.4)),rp.shape(diff(VC)),hs.shape(diff(VC),smooth=False),lit.shape(diff((.1,.1,.1)),emit=VC,smooth=False)]
    sh.append(sky((.012,.050,.150),(.15,.20,.30),(1.15,.42,.11),-.1,1.1,.80,(.36,.22,.19),(.045,.070,.125),seed=91,cs=.10,pw=.42,cth=.50))
    return sh,camera((.75,-5.2,1.75),(.06,0,3.72),54,w,h,.030,5.3,roll=.7),dict(depth=4,ev=1.05,haze=(.12,.14,.19),hazek=.0012,bloom=.06,bloomt=1.6,vig=.30,grain=.016,sat=1.06)

def paper_boat(w,h):
    sh=[]; rng=np.random.default_rng(3)
    # folded boat: hull of two leaning sides, raised centre peak, turned rim
    L,B,Hh=.105,.040,.050; pk=.083
    def sheet(m,pts,C,n=26,sag=.0012,seed=0):
        A=np.array(pts,float); u=np.linspace(0,1,n)[:,None,None]; v=np.linspace(0,1,n)[None,:,None]
        P=(A[0]*(1-u)+A[1]*u)*(1-v)+(A[3]*(1-u)+A[2]*u)*v; N=np.cross(A[1]-A[0],A[3]-A[0]+A[2]-A[1]); N/=np.linalg.norm(N)+1e-12
        q=fbm(64,64,2.8,seed)[:n,:n]-.5; P=P+N*(sag*q*2*np.sin(u*pi)[...,0]**.5*np.sin(v*pi)[...,0]**.5)[...,None]
        m.add(P.reshape(-1,3),grid_faces(n,n),np.stack(np.broadcast_arrays(u[...,0],v[...,0]),-1).reshape(-1,2),C)
    m=M()
    for s in (-1,1):
        bot=np.array([0,0,0.]); e1=np.array([-L,0,Hh]); e2=np.array([L,0,Hh]); mid=np.array([0,s*B,Hh*.66]); k1=np.array([-L*.36,s*.004,0]); k2=np.array([L*.36,s*.004,0])
        # outer side (flared)
        sheet(m,[k1,k2,mid+np.array([L*.26,0,0]),mid-np.array([L*.26,0,0])],(1,1,1),seed=1+s)
        sheet(m,[k1,mid-np.array([L*.26,0,0]),e1,e1-np.array([-.001,0,.001])],(1,1,1),seed=4+s)
        sheet(m,[k2,e2,e2-np.array([.001,0,.001]),mid+np.array([L*.26,0,0])],(1,1,1),seed=7+s)
        # inner rim layer, slightly inside
        o=np.array([0,-s*.0022,-.0006])
        sheet(m,[k1*.8+o+[0,0,.012],k2*.8+o+[0,0,.012],mid+o+np.array([L*.24,0,.0]),mid+o-np.array([L*.24,0,0])],(1,1,1),seed=11+s)
        # centre sail, two layers
        sheet(m,[[-L*.46,s*.0015,Hh*.30],[L*.46,s*.0015,Hh*.30],[.0008,s*.0025,pk],[-.0008,s*.0025,pk]],(1,1,1),sag=.0025,seed=15+s)
    pf=fbm(512,512,1.3,4); R=T().translate([0,0,.0008]).rotate([0,0,1],33).rotate([1,0,0],-3.)
    d=m.shape(two({'type':'bumpmap','arbitrary':tex(pf,scale=(2,2)),'scale':.0004,'bsdf':{'type':'diffuse','reflectance':tex(lerp((.80,.785,.75),(.86,.845,.81),pf))}}),smooth=True); d['to_world']=R; sh.append(d)
    # sweep
    y=np.concatenate([np.linspace(-.8,.45,40),.45+.5*np.sin(np.linspace(.04,pi/2,30)),np.full(10,.95)]); z=np.concatenate([np.zeros(40),.5-.5*np.cos(np.linspace(.04,pi/2,30)),np.linspace(.55,1.8,10)]); x=np.linspace(-2,2,6)
    sw=M(); sw.add(np.stack(np.broadcast_arrays(x[None],y[:,None],z[:,None]),-1).reshape(-1,3),grid_faces(80,6)); sh.append(sw.shape(diff(tex(lerp((.085,.205,.225),(.105,.235,.255),fbm(1024,1024,1.2,9)),scale=(3,3)))))
    for o,s,r in (((-.80,-.62,.62),(.17,.17),36.),((1.3,-.5,.8),(.5,.5),.45)):
        sh.append({'type':'rectangle','to_world':T().look_at(origin=list(o),target=[0,0,.03],up=[0,0,1])@T().scale([s[0],s[1],1]),'bsdf':diff((.1,.1,.1)),'emitter':{'type':'area','radiance':rgb(r,r*.86,r*.66) if r>1 else rgb(r*.85,r*.95,r*1.1)}})
    sh.append(sky((.17,.20,.24),(.14,.15,.17),ground=(.1,.1,.1),H=32))
    return sh,camera((.05,-.50,.20),(.0,.0,.036),32,w,h,.006,.52),dict(depth=5,ev=.75,bloom=.01,vig=.18,grain=.010,sat=1.0)

def market_stall(w,h):
    rng=np.random.default_rng(41); sh=[]; pa=M(); dk=M(); rp=M(); wd=M(); ob=M(); pts=[]; gls={}
    col,hm=woodtex(512,2048,500,(.10,.06,.035),(.34,.21,.12))
    def plank(c,s,R=None): box(wd,c,s,R,bev=.006,uvs=.6,uvo=tuple(rng.random(2)*7))
    for x in (-1.15,1.15):
        for y in (0,.95): plank((x,y,1.2),(.07,.07,2.4+.25*(y>0)))
    for z in (.62,): 
        for k in range(5): plank((0,-.02+.105*k,z+.22),(2.4,.1,.025),rotx(.02))
    tiers=((.22,.86),(.48,1.12),(.74,1.38))
    for (y,z) in tiers: plank((0,y+.06,z),(2.3,.25,.025)); plank((0,y-.06,z-.05),(2.3,.02,.09))
    for k in range(12): plank((-1.1+.2*k,-.06,.44),(.19,.022,.80))
    for k in range(14): plank((-1.12+.172*k,.98,1.2),(.165,.02,2.2))
    for z in (1.95,2.28): tube(dk,[[-1.2,.02,z],[1.2,.02,z]],.018,8,(.20,.13,.08))
    # awning
    n=120; X,S=np.meshgrid(np.linspace(-1.4,1.4,n),np.linspace(0,1,60)); Y=-.45+1.5*S; Zz=2.28+.42*S-.05*np.sin(S*pi)-.035*np.abs(np.sin(X*pi*1.25))*(1-S)+.012*(samp(fbm(128,128,2.5,5),X/2,S)-.5)
    st=((np.floor((X+1.4)/.2)%2)>0).astype(float); A=M(); C=lerp((.72,.66,.54),(.42,.09,.06),st); A.add(np.stack([X,Y,Zz],-1).reshape(-1,3),grid_faces(60,n),None,C.reshape(-1,3))
    X2,S2=np.meshgrid(np.linspace(-1.4,1.4,241),np.linspace(0,1,10)); dn=.06+.10*np.abs(np.sin((X2+1.4)/.2*pi))**.6; st2=((np.floor((X2+1.4)/.2)%2)>0).astype(float); zb=2.28-.035*np.abs(np.sin(X2*pi*1.25)); A.add(np.stack([X2,-.45+.015*np.sin(X2*17)*S2,zb-dn*S2],-1).reshape(-1,3),grid_faces(10,241),None,lerp((.72,.66,.54),(.42,.09,.06),st2).reshape(-1,3)); sh.append(A.shape(diff(VC)))
    k=0
    def lan(c,R,H,kind,cn,I): 
        nonlocal k
        lantern(pa,dk,c,R,H,kind,np.array(rgbs[cn])*np.array([1,.80,.56]),I*.30,seed=200+k,tilt=rng.normal(0,.03),seg=28,ribs=8); k+=1
    names=['amber','red','cream','amber','teal']
    for ti,(y,z) in enumerate(tiers):
        x=-1.05
        while x<1.08:
            R=rng.uniform(.048,.066); H=R*rng.uniform(2.0,2.9)
            if (ti+int(x*3))%3!=1 or ti==2: lan((x,y+.03+rng.normal(0,.015),z+.013+H/2),R,H,['round','tall','cone'][int(x*2+ti)%3],names[(int(x*2.3+9)+ti)%5],rng.choice([.10,.18,.75,.95],p=[.22,.18,.32,.28]))
            else:
                tc=[(.35,.70,.52),(.35,.58,.70),(.80,.60,.30),(.6,.66,.66)][rng.integers(4)]; gls.setdefault(tc,[]).append((x,y+.03,z+.013+R*.95,R*.95))
                a=np.linspace(0,2*pi,50)
                for q in range(3): e=rng.normal(size=3); e/=np.linalg.norm(e); f=np.cross(e,[.3,.2,1]); f/=np.linalg.norm(f); g=np.cross(e,f); tube(rp,np.array([x,y+.03,z+.013+R*.95])+R*.98*(np.cos(a)[:,None]*f+np.sin(a)[:,None]*g),.0026,6,(.42,.33,.21),3,.012)
            x+=R*2+rng.uniform(.012,.035)
        for x in np.linspace(-.95,.95,7): box(ob,(x+rng.normal(0,.03),y-.075,z-.045),(.085,.004,.055),rotx(-.12)@roty(rng.normal(0,.06)),(.74,.68,.55)); box(ob,(x,y-.0775,z-.04),(.045,.002,.008),None,(.10,.07,.06)); box(ob,(x+.005,y-.0775,z-.055),(.03,.002,.006),None,(.10,.07,.06))
    for zi,(z,n,I) in enumerate(((2.28,9,1.1),(1.95,11,.95))):
        for x in np.linspace(-1.05,1.05,n)+rng.normal(0,.02,n): R=rng.uniform(.075,.10) if zi==0 else rng.uniform(.055,.07); H=R*rng.uniform(2.1,2.7); dz=rng.uniform(.03,.10); c=np.array([x,.02,z-dz-H/2-.06]); lan(c,R,H,['round','tall','round','cone'][k%4],names[k%5 if k%5<4 else 0],I*rng.uniform(.7,1.15)); tube(rp,[c+[0,0,H/2+.06],[x,.02,z]],.003,5,(.1,.08,.06)); pts.append({'type':'point','position':[float(c[0]),float(c[1])-.03,float(c[2]-H/2-.06)],'intensity':rgb(.115,.066,.031)})
    # counter: baskets of floats, rope coils, folded paper boats
    for bx in (-.86,-.30,.27,.84):
        for r in range(7): a=np.linspace(0,2*pi,60); rr=.155+.006*r; tube(rp,np.stack([bx+rr*np.cos(a),.05+rr*.62*np.sin(a),.868+.015*r+.003*np.sin(a*14+r*pi)],1),.0085,7,np.array([.40,.28,.15])*rng.uniform(.8,1.1))
        if bx in (-.86,.27):
            for q in range(13): r=rng.uniform(.036,.046); tc=[(.35,.70,.52),(.35,.58,.70),(.80,.60,.30)][q%3]; ang=q*2.4; rad=.105*np.sqrt((q%7)/7.); gls.setdefault(tc,[]).append((bx+rad*np.cos(ang),.05+rad*.6*np.sin(ang),.915+.062*(q//7),r))
        else:
            for q in range(14): c=np.array([.7,.2,.12]) if q%2 else np.array([.74,.70,.60]); blob(ob,(bx+.11*np.cos(q*2.4)*np.sqrt((q%8)/8),.05+.07*np.sin(q*2.4)*np.sqrt((q%8)/8),.92+.05*(q//8)),.04,q,.04,c,14,(1,1,1.25))
    for cx in (-.58,.56): q=np.linspace(0,14*pi,420); rr=.05+.0016*q; tube(rp,np.stack([cx+rr*np.cos(q)*.7,-.02+rr*np.sin(q)*.6,.872+.010*np.floor(q/9)],1),.0075,8,(.45,.36,.23),3,.03)
    for tc,L in gls.items():
        for (x,y,z,r) in L: sh.append({'type':'sphere','center':[float(x),float(y),float(z)],'radius':float(r),'bsdf':{'type':'thindielectric','int_ior':1.55,'specular_transmittance':rgb(*[v**.5 for v in tc])}}); blob(ob,(x,y,z),r*.80,3,.02,np.array(tc)*.30,12)
    # street behind and cobbles
    cb,ch=stonetex(512,512,90); gm=M()
    for i in range(26):
        for j in range(46): box(gm,(-2.7+.12*j*1.02+.06*(i%2),-1.5+.13*i,-.04+rng.normal(0,.004)),(.112,.122,.1),rotx(rng.normal(0,.03)),(1,1,1),.02,.9,tuple(rng.random(2)*5))
    sh.append(gm.shape(rough(tex(cb*.7),.5,.5),smooth=False))
    bk=M(); bk.add([[-9,7,-.1],[9,7,-.1],[9,7,7],[-9,7,7]],[[0,2,1],[0,3,2]],None,(.13,.115,.10)); bk.add([[-9,-3,-.09],[9,-3,-.09],[9,7,-.09],[-9,7,-.09]],[[0,1,2],[0,2,3]],None,(.06,.055,.05)); sh.append(bk.shape(diff(VC),smooth=False))
    far=M()
    for i in range(26): lathe(far,[(0,-.16),(.1,-.13),(.14,0),(.1,.13),(0,.16)],(rng.uniform(-4,4),rng.uniform(3,6.8),rng.uniform(1.6,3.6)),14,None,np.array([1,.5,.18])*rng.uniform(.8,2.2))
    sh.append(far.shape(diff((.3,.2,.1)),emit=VC))
    sh+=pts+[wd.shape(rough(tex(col),.55,.4,tex(hm),.003),smooth=False),pa.shape(diff((.55,.44,.32)),emit=VC),dk.shape(rough(VC,.45)),rp.shape(diff(VC)),ob.shape(rough(VC,.5))]
    sh.append(sky((.03,.06,.14),(.12,.13,.18),(.3,.12,.06),2.6,1.,.0,H=128))
    return sh,camera((.42,-3.0,1.72),(.02,.25,1.585),36.5,w,h,.010,3.1,roll=-.5),dict(depth=5,ev=1.85,bloom=.05,bloomt=1.6,vig=.30,grain=.016,sat=1.05)

# ================= command line =================
"""python scenes.py NAME LONG_EDGE SPP [outdir]  -> JPEG q92 (lowered until < 3.9 MB) with camera-neutral EXIF"""
import io
from PIL import Image
ASP=dict(harbour_wall=(2,1),lantern_pole=(2,3),market_stall=(4,5))
META=dict(quay_lanterns=('2025:09:20 19:52:14',(1,30),2.0,1600,35,240),glass_float=('2025:09:21 10:14:41',(1,80),2.8,400,50,240),harbour_wall=('2025:09:20 14:07:33',(1,500),8.0,100,28,240),
 lighthouse=('2025:09:21 16:31:05',(1,640),8.0,100,50,72),framed_chart=('2025:09:21 11:02:56',(1,60),4.0,800,35,240),lantern_pole=('2025:09:20 19:40:22',(1,50),2.0,1250,35,72),paper_boat=('2025:09:22 09:18:09',(1,125),8.0,200,60,240),market_stall=('2025:09:20 20:26:48',(1,60),2.8,2000,35,240))
def save(im,name,out):
    dt,ex,fn,iso,fl,res=META[name]; img=Image.fromarray(im); e=Image.Exif()
    if name=='lantern_pole': img=img.transpose(Image.Transpose.ROTATE_90); e[274]=6   # stored lying down, shown upright
    else: e[274]=1
    e[306]=dt; e[282]=float(res); e[283]=float(res); e[296]=2
    e.get_ifd(0x8769).update({36867:dt,36868:dt,33434:ex[0]/ex[1],33437:fn,34855:iso,37386:float(fl),40961:1,40962:img.width,40963:img.height})
    q=92
    while True:
        b=io.BytesIO(); img.save(b,'JPEG',quality=q,subsampling=1 if q<92 else 0,exif=e.tobytes(),dpi=(res,res),optimize=True)
        if b.tell()<3.9e6 or q<70: break
        q-=2
    open(out,'wb').write(b.getvalue()); print('saved',out,img.size,'q',q,b.tell())
if __name__=='__main__':
    n,edge,spp=sys.argv[1],int(sys.argv[2]),int(sys.argv[3]); outd=sys.argv[4] if len(sys.argv)>4 else '.'
    ax,ay=ASP.get(n,(3,2)); W,H=(edge,round(edge*ay/ax)) if ax>ay else (round(edge*ax/ay),edge)
    t=time.time(); sh,cam,o=globals()[n](W,H); dp=o.pop('depth'); t1=time.time(); a=render(sh,cam,spp,dp); t2=time.time(); d=denoise(a); t3=time.time(); im=finish(a,dn=d,**o); t4=time.time()
    save(im,n,f'{outd}/{n}.jpg'); print(f'TIMING {n} {W}x{H} {spp}spp build {t1-t:.0f} render {t2-t1:.0f} denoise {t3-t2:.0f} finish {t4-t3:.0f} s; load',os.getloadavg(),flush=True)
